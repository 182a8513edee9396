import InputBase from "@mui/material/InputBase";
import { useEffect, useState } from "react";
import { useSiteContext } from "../site/context";

/** A layer's name, to be typed over. */
export function NameField({ name, path }: { name: string; path: string }) {
  const { editor } = useSiteContext();
  const [text, setText] = useState(name);
  useEffect(() => setText(name), [name]);
  const finish = () => {
    const wanted = text.trim();
    if (!wanted) setText(name);
    else if (wanted !== name)
      editor.commit(`Rename ${name} to ${wanted}`, [{ op: "replace", path: `${path}/name`, value: wanted }]);
  };
  return (
    <InputBase
      value={text}
      onChange={(event) => setText(event.target.value)}
      onBlur={finish}
      onKeyDown={(event) => event.key === "Enter" && finish()}
      inputProps={{ "aria-label": "Name", maxLength: 80 }}
      sx={{ fontWeight: 650, fontSize: 14, "& input": { p: 0 } }}
    />
  );
}
