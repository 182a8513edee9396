import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import { useState } from "react";
import type { SceneManifest } from "../api/client";

/** Says which files that the site uses are lost, and what stands in for them, until that is put aside. */
export function LostFiles({ lost }: { lost: SceneManifest["lost"] }) {
  const [aside, setAside] = useState("");
  const all = lost.map((one) => one.field).join();
  if (!lost.length || aside === all) return null;
  return (
    <Alert
      severity="warning"
      sx={{ position: "absolute", left: 16, right: 16, bottom: 16, zIndex: 3 }}
      action={<Button onClick={() => setAside(all)}>Put aside</Button>}
    >
      {lost.map((one) => (
        <div key={one.field}>{one.message}</div>
      ))}
    </Alert>
  );
}
