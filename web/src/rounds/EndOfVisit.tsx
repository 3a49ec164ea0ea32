import { Alert, Box, Button, Paper, Stack, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { TimeField } from "../ui/TimeField";
import { useTimeOfDay } from "../ui/useClock";

type Act = (what: Schemas["VisitWhat"]) => void;

/** What there is no time for: left, or the time is changed. */
export function NoTime({
  stops,
  until,
  act,
}: {
  stops: Schemas["StopView"][];
  until: string | null | undefined;
  act: Act;
}) {
  const say = useTimeOfDay();
  if (stops.length === 0) return null;
  return (
    <Alert severity="warning" variant="outlined" role="region" aria-label="No time for it">
      <Typography>
        {until ? `Out again by ${say(until)}: there` : "There"} is no time for{" "}
        {stops.map((stop) => (stop.is_room ? stop.name : `${stop.name}, ${stop.what}`)).join("; ")}. What is left does
        the least harm; give more time below, or leave it.
      </Typography>
      <Button
        variant="outlined"
        sx={{ mt: 1, minHeight: 48 }}
        onClick={() => {
          for (const stop of stops) act({ kind: "dropped", id: stop.id });
        }}
      >
        Leave {stops.length === 1 ? "it" : "them"} for another time
      </Button>
    </Alert>
  );
}

/** When one must be out, and which order is followed; both may change on the way. */
export function EndOfVisit({ run, act }: { run: Schemas["RunView"]; act: Act }) {
  const [until, setUntil] = useState(run.until ?? "");
  const change = (next: Partial<{ until: string | null; order: Schemas["Order"] }>) =>
    act({ kind: "changed", until: run.until ?? null, order: run.order, ...next });
  return (
    <Paper component="section" aria-label="Time" sx={{ p: 2 }}>
      <Typography variant="h2">Time</Typography>
      <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap", mt: 1, alignItems: "flex-start" }}>
        <TimeField label="Out again by" value={until} onChange={setUntil} help="Empty: as long as it takes" />
        <Button
          variant="outlined"
          sx={{ minHeight: 44 }}
          disabled={(until || null) === (run.until ?? null)}
          onClick={() => change({ until: until || null })}
        >
          Change it
        </Button>
        <Button
          variant="outlined"
          color="warning"
          sx={{ minHeight: 44 }}
          onClick={() => {
            setUntil(run.clock);
            change({ until: run.clock });
          }}
        >
          I must go: begin nothing more
        </Button>
      </Stack>
      <Box sx={{ mt: 1 }}>
        <ToggleButtonGroup
          exclusive
          value={run.order}
          onChange={(_, order: Schemas["Order"] | null) => order && change({ order })}
          aria-label="Which order"
        >
          <ToggleButton value="shortest" sx={{ minHeight: 44 }}>
            Shortest
          </ToggleButton>
          <ToggleButton value="calm" sx={{ minHeight: 44 }}>
            Calm: one brewer's presses together
          </ToggleButton>
        </ToggleButtonGroup>
      </Box>
    </Paper>
  );
}
