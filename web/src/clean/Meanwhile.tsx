import { Button, Paper, Stack, Typography } from "@mui/material";
import type { Schemas } from "../api/client";
import { Cautions } from "./Cautions";

/** What fits in while the machine works alone; what is not done now comes later by itself. */
export function Meanwhile({ clean, act }: { clean: Schemas["CleanView"]; act: (what: Schemas["Act"]) => void }) {
  const steps = clean.state.meanwhile
    .map((id) => clean.plan.steps.find((step) => step.id === id))
    .filter((step) => step !== undefined);
  if (steps.length === 0) return null;
  return (
    <Paper component="section" aria-label="Meanwhile" sx={{ p: 2 }}>
      <Typography variant="h2" gutterBottom>
        Meanwhile
      </Typography>
      <Stack spacing={2}>
        {steps.map((step) => (
          <Stack key={step.id} spacing={0.5}>
            <Typography sx={{ fontWeight: 700, fontSize: "1.1rem" }}>{step.title}</Typography>
            {step.what.map((line) => (
              <Typography key={line}>{line}</Typography>
            ))}
            <Cautions cautions={step.cautions} />
            <Button
              variant="outlined"
              sx={{ minHeight: 56, alignSelf: "flex-start" }}
              onClick={() => act({ kind: "done", step: step.id })}
            >
              {step.act}
            </Button>
          </Stack>
        ))}
      </Stack>
    </Paper>
  );
}
