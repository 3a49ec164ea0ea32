import { Paper, Typography } from "@mui/material";
import type { Schemas } from "../api/client";
import { ChalkChart } from "../pictures/ChalkChart";
import { WhatIf } from "./WhatIf";

/** Chalk from clean to clean and ahead, and what another water or habit would change. */
export function OverTime({ id, brewer }: { id: string; brewer: Schemas["BrewerView"] }) {
  const { card, courses, draft, journal } = brewer;
  return (
    <>
      {card.circuits.map((circuit, i) => (
        <Paper key={circuit.circuit_id} component="section" aria-label={circuit.name} sx={{ p: { xs: 2, md: 3 } }}>
          {card.circuits.length > 1 && <Typography variant="h2">{circuit.name}</Typography>}
          <Typography>
            Descale {circuit.forecast.due.text}.
            {circuit.forecast.due.window && ` Due window: ${circuit.forecast.due.window}.`}
          </Typography>
          {courses[i] && (
            <ChalkChart
              course={courses[i]}
              due={circuit.forecast.due}
              signs={journal.flatMap(({ entry, text }) =>
                entry.what.kind === "sign" && entry.what.circuit_id === circuit.circuit_id
                  ? [{ day: entry.day, text }]
                  : [],
              )}
            />
          )}
        </Paper>
      ))}
      <WhatIf id={id} draft={draft} />
    </>
  );
}
