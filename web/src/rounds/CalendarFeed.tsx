import { Button, Paper, Stack, TextField, Typography } from "@mui/material";
import { send, useChange } from "../api/client";
import { CopyButton } from "../ui/CopyButton";
import { ErrorNotice } from "../ui/Notices";

/** What is due and planned in the calendar one uses anyway: as a file once, or at an address it reads by itself. */
export function CalendarFeed({ feed }: { feed: string | undefined }) {
  const renew = useChange(send.renewFeed);
  const cut = useChange(send.cutFeed);
  const address = feed === undefined ? "" : `${window.location.origin}${feed}`;
  return (
    <Paper component="section" aria-label="In your calendar" sx={{ p: 2 }}>
      <Typography variant="h2">In your calendar</Typography>
      <Typography sx={{ my: 1 }}>
        Due days, small works and visits as a calendar file. Or let your calendar read them by itself, at an address
        that nobody can guess.
      </Typography>
      <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap", alignItems: "center" }}>
        <Button component="a" href="/api/calendar.ics" download="murlo.ics" variant="outlined">
          Take the file
        </Button>
        {feed === undefined ? (
          <Button variant="outlined" onClick={() => renew.mutate(undefined)} disabled={renew.isPending}>
            Make an address
          </Button>
        ) : (
          <>
            <TextField
              label="Address for your calendar"
              value={address}
              slotProps={{ input: { readOnly: true } }}
              sx={{ flexGrow: 1, minWidth: 220 }}
            />
            <CopyButton label="Copy it" text={address} key={address} />
            <Button onClick={() => renew.mutate(undefined)}>Make a new one</Button>
            <Button onClick={() => cut.mutate(undefined)}>Cut it off</Button>
          </>
        )}
      </Stack>
      {feed !== undefined && (
        <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
          Whoever has this address can read it without signing in. A new one ends the old one at once.
        </Typography>
      )}
      <ErrorNotice error={renew.error ?? cut.error} />
    </Paper>
  );
}
