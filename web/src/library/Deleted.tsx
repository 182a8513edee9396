import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";

/** Says that something of the library was deleted, and brings it back. */
export function Deleted({ name, remark, onUndo }: { name: string; remark?: string; onUndo: () => void }) {
  return (
    <Alert
      severity="info"
      action={
        <Button size="small" onClick={onUndo}>
          Undo
        </Button>
      }
    >
      “{name}” was deleted.{remark && ` ${remark}`}
    </Alert>
  );
}
