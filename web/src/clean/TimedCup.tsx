import { Button, Stack, TextField, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import type { Schemas } from "../api/client";
import { typedOrNone } from "../ui/typed";

/** Seconds and streams of one cup, with a watch to press. */
export function TimedCup({
  state,
  step,
  cup,
  act,
}: {
  state: Schemas["State"];
  step: string;
  cup: string | undefined;
  act: (what: Schemas["Act"]) => void;
}) {
  const [seconds, setSeconds] = useState("");
  const [streams, setStreams] = useState("");
  const [since, setSince] = useState<number>();
  const [now, setNow] = useState(0);
  useEffect(() => {
    if (since === undefined) return;
    const tick = setInterval(() => setNow(Date.now()), 200);
    return () => clearInterval(tick);
  }, [since]);
  const elapsed = since === undefined ? 0 : Math.max(0, Math.round((now - since) / 1000));
  const told = state.flow.find((f) => f.step === step);
  return (
    <Stack spacing={1} component="section" aria-label="Time a cup">
      <Typography variant="h3" component="h2">
        Time a cup{cup ? ` of ${cup}` : ""}, if you like
      </Typography>
      <Stack direction="row" spacing={1} sx={{ alignItems: "flex-start", flexWrap: "wrap", rowGap: 1 }}>
        <Button
          variant="outlined"
          sx={{ minHeight: 56, minWidth: 150 }}
          onClick={() => {
            if (since === undefined) {
              setNow(Date.now());
              setSince(Date.now());
            } else {
              setSeconds(String(elapsed));
              setSince(undefined);
            }
          }}
        >
          {since === undefined ? "First drop: start" : `Last drop: ${elapsed} s`}
        </Button>
        <TextField
          label="Seconds"
          value={seconds}
          inputMode="decimal"
          sx={{ width: 110 }}
          onChange={(e) => setSeconds(e.target.value)}
        />
        <TextField
          label="Streams"
          value={streams}
          inputMode="numeric"
          sx={{ width: 110 }}
          onChange={(e) => setStreams(e.target.value)}
        />
        <Button
          sx={{ minHeight: 56 }}
          variant="outlined"
          disabled={seconds.trim() === "" && streams.trim() === ""}
          onClick={() => act({ kind: "measured", step, seconds: typedOrNone(seconds), streams: typedOrNone(streams) })}
        >
          Write it down
        </Button>
      </Stack>
      {told && (
        <Typography role="status">
          <strong>{told.text}.</strong> {state.flow_text}
        </Typography>
      )}
    </Stack>
  );
}
