import { Box, Button, Stack, TextField, Typography } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { type Schemas, send } from "../api/client";
import { ErrorNotice, Page } from "../ui/Notices";

/** A device that is not signed in: by the passcode where there is one, by a code from one that is. */
export function SignIn({ session }: { session: Schemas["Session"] }) {
  const cache = useQueryClient();
  const [passcode, setPasscode] = useState("");
  const [error, setError] = useState<Error | null>(null);
  const submit = () => send.signIn(passcode).then(() => cache.invalidateQueries(), setError);
  return (
    <Box component="main" sx={{ maxWidth: 420, mx: "auto", mt: { xs: 4, md: 12 }, p: 2 }}>
      <Page title="Murlo">
        <Typography>
          This device is not signed in. A clean that is running goes on where it stood; what you pressed meanwhile waits
          on this device.
        </Typography>
        <Button component={Link} to="/pair" variant={session.has_passcode ? "outlined" : "contained"} size="large">
          I have a code
        </Button>
        <Typography color="textSecondary">
          A device that is signed in shows one: Household, then Let a device in. So does <code>murlo pair</code> on the
          machine that serves.
        </Typography>
        {session.has_passcode && (
          <form
            onSubmit={(event) => {
              event.preventDefault();
              submit();
            }}
          >
            <Stack spacing={2}>
              <TextField
                label="Passcode"
                type="password"
                autoComplete="current-password"
                value={passcode}
                onChange={(e) => setPasscode(e.target.value)}
              />
              <Button type="submit" variant="contained">
                Sign this device in
              </Button>
            </Stack>
          </form>
        )}
        <ErrorNotice error={error} />
      </Page>
    </Box>
  );
}
