import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useMutation } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { ChooseFile } from "../forms/ChooseFile";
import { colours } from "../theme/theme";
import { Heading } from "./parts";

interface Props<Found> {
  /** What the file is, as people call it. */
  called: string;
  accept: string;
  upload: (file: File) => Promise<Found>;
  /** What is done with what was read of it, and what is said of it. */
  onRead: (found: Found) => string[];
  /** The name of the file in use; none where there is none. */
  inUse: string | null;
  onDelete: () => void;
  /** How the one in use is set. */
  children?: ReactNode;
  /** Beside the button that takes a file in. */
  beside?: ReactNode;
}

/** One file of the user's own that a site makes use of: which it is, how it is set, another in its place. */
export function BroughtFile<Found>(props: Props<Found>) {
  const { called, accept, inUse, children, beside } = props;
  const [remarks, setRemarks] = useState<string[]>([]);
  const upload = useMutation({ mutationFn: props.upload, onSuccess: (found) => setRemarks(props.onRead(found)) });
  return (
    <>
      <Heading text={called.toLowerCase()} />
      {inUse !== null && (
        <>
          <Typography variant="caption" component="div" noWrap title={inUse}>
            {inUse}
          </Typography>
          {children}
          <Button color="secondary" aria-label={`Delete the ${called.toLowerCase()}`} onClick={props.onDelete}>
            Delete
          </Button>
        </>
      )}
      {remarks.map((remark) => (
        <Typography key={remark} variant="caption" component="div" sx={{ color: colours.faint }}>
          {remark}
        </Typography>
      ))}
      {upload.isError && <Alert severity="error">{upload.error.message}</Alert>}
      <div>
        <ChooseFile
          label={`${called} file`}
          accept={accept}
          disabled={upload.isPending}
          onChoose={([file]) => upload.mutate(file)}
        >
          {upload.isPending ? "Reading …" : "Import …"}
        </ChooseFile>
        {beside}
      </div>
    </>
  );
}
