import { Button, Stack, TextField } from "@mui/material";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { typedOrNone } from "../ui/typed";

/** Sets the clock by what the machine itself shows. */
export function TimeLeft({ step, act }: { step: string; act: (what: Schemas["Act"]) => void }) {
  const [minutes, setMinutes] = useState("");
  const typed = typedOrNone(minutes);
  return (
    <Stack direction="row" spacing={1} sx={{ alignItems: "center" }}>
      <TextField
        label="Minutes left on its display"
        value={minutes}
        inputMode="numeric"
        sx={{ maxWidth: 230 }}
        onChange={(e) => setMinutes(e.target.value)}
      />
      <Button
        variant="outlined"
        sx={{ minHeight: 48, flexShrink: 0 }}
        disabled={typed === null}
        onClick={() => {
          // Text is sent as typed: the refusal names it.
          act({ kind: "time_left", step, minutes: typed as number });
          setMinutes("");
        }}
      >
        Set the clock
      </Button>
    </Stack>
  );
}
