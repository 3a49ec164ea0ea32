import { Button, Paper, Stack, Typography } from "@mui/material";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { Touches } from "../ui/Touches";

type Looked = Schemas["FoundInside"];

const smells: [Looked["smell"], string][] = [
  ["sour", "Sour, or like the agent"],
  ["nothing", "Nothing"],
  ["unsure", "I cannot tell"],
];
const tanks: [Looked["tank"], string][] = [
  ["bath", "The bath: it smells, or is cloudy"],
  ["water", "Clear water"],
  ["nothing", "Nothing is in it"],
];
const plugs: ["in" | "out", string][] = [
  ["in", "Plugged in"],
  ["out", "Unplugged"],
];

/** Three touches of somebody who comes back to a brewer that was left: what is in it is looked at, not remembered. */
export function InItNow({ found, skip }: { found: (found: Looked) => void; skip: () => void }) {
  const [smell, setSmell] = useState<Looked["smell"]>();
  const [tank, setTank] = useState<Looked["tank"]>();
  // The third touch tells it all.
  const touched = (next: { smell?: Looked["smell"]; tank?: Looked["tank"]; plug?: "in" | "out" }) => {
    const all = { smell, tank, ...next };
    setSmell(all.smell);
    setTank(all.tank);
    if (all.smell && all.tank && next.plug) found({ smell: all.smell, tank: all.tank, plugged: next.plug === "in" });
  };
  return (
    <Paper
      component="section"
      aria-label="What is in it now"
      sx={{ p: { xs: 2, md: 3 }, borderWidth: 2, borderColor: "warning.main" }}
    >
      <Typography variant="h1" gutterBottom>
        What is in it now?
      </Typography>
      <Typography gutterBottom>
        It was left for a while, or somebody else was at it. Look before anything is pressed.
      </Typography>
      <Stack spacing={2} sx={{ my: 2 }}>
        <Touches
          title="Sniff at the outlet"
          choices={smells}
          chosen={smell ? [smell] : []}
          onTouch={(next) => touched({ smell: next })}
        />
        <Touches
          title="Look where the water goes in"
          choices={tanks}
          chosen={tank ? [tank] : []}
          onTouch={(next) => touched({ tank: next })}
        />
        {smell && tank && (
          <Touches title="Is it plugged in?" choices={plugs} chosen={[]} onTouch={(plug) => touched({ plug })} />
        )}
      </Stack>
      <Button onClick={skip} sx={{ minHeight: 48 }}>
        I was here all the time
      </Button>
    </Paper>
  );
}
