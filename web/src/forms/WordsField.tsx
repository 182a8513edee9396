import TextField from "@mui/material/TextField";
import { useEffect, useState } from "react";

interface WordsProps {
  label: string;
  help?: string;
  most?: number;
  value: string;
  onDone: (value: string) => void;
}

/** A text that is typed; taken when the field is left, or with the platform's modifier and Enter. */
export function WordsField({ label, help, most, value, onDone }: WordsProps) {
  const [words, setWords] = useState(value);
  useEffect(() => setWords(value), [value]);
  const done = () => words !== value && onDone(words);
  return (
    <TextField
      multiline
      maxRows={3}
      label={label}
      title={help}
      value={words}
      onChange={(event) => setWords(event.target.value)}
      onBlur={done}
      onKeyDown={(event) => event.key === "Enter" && (event.ctrlKey || event.metaKey) && done()}
      slotProps={{ htmlInput: { "aria-label": label, maxLength: most } }}
      sx={{ mt: 0.75, minWidth: 120 }}
    />
  );
}
