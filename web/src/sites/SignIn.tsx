import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { type FormEvent, useState } from "react";
import { useSignIn } from "../api/queries";
import { colours } from "../theme/theme";

/** The page for signing in. */
export function SignIn({ failed }: { failed: boolean }) {
  const [user, setUser] = useState("");
  const [password, setPassword] = useState("");
  const signIn = useSignIn();
  const submit = (event: FormEvent) => {
    event.preventDefault();
    signIn.mutate({ user, password });
  };
  return (
    <Box
      component="main"
      sx={{
        height: "100%",
        display: "grid",
        placeItems: "center",
        background: `repeating-linear-gradient(${colours.limestone} 0 46px, ${colours.rule} 46px 47px)`,
      }}
    >
      <Paper component="form" onSubmit={submit} variant="outlined" sx={{ p: 4, width: 360, display: "grid", gap: 2 }}>
        <Box sx={{ display: "flex", alignItems: "center", gap: 1.5 }}>
          <img src="/mark.svg" alt="" width={34} height={34} />
          <Typography variant="h1">Cenote</Typography>
        </Box>
        <Typography color="text.secondary">Dress a place, and let time work on it.</Typography>
        {failed && (
          <Alert severity="error">The server cannot be reached. Start it with ./cenote start, then reload.</Alert>
        )}
        {signIn.isError && <Alert severity="error">{signIn.error.message}</Alert>}
        <TextField
          label="Name"
          value={user}
          onChange={(e) => setUser(e.target.value)}
          autoComplete="username"
          required
        />
        <TextField
          label="Password"
          type="password"
          value={password}
          onChange={(e) => setPassword(e.target.value)}
          autoComplete="current-password"
          required
        />
        <Button type="submit" variant="contained" size="large" disabled={signIn.isPending}>
          Sign in
        </Button>
      </Paper>
    </Box>
  );
}
