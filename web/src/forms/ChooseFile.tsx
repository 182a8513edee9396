import Button, { type ButtonProps } from "@mui/material/Button";
import { useRef } from "react";

interface Props extends Pick<ButtonProps, "children" | "disabled" | "variant" | "sx"> {
  /** What the files are, for who does not see the button. */
  label: string;
  /** Kinds of files, as an input takes them. */
  accept: string;
  multiple?: boolean;
  onChoose: (files: File[]) => void;
}

/** A button that lets files be chosen; by the keyboard as by the mouse. The same file may be chosen again. */
export function ChooseFile({ label, accept, multiple, onChoose, children, ...button }: Props) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button {...button} onClick={() => input.current!.click()}>
        {children}
      </Button>
      <input
        ref={input}
        type="file"
        hidden
        multiple={multiple}
        accept={accept}
        aria-label={label}
        onChange={(event) => {
          const files = [...(event.target.files ?? [])];
          event.target.value = "";
          if (files.length) onChoose(files);
        }}
      />
    </>
  );
}
