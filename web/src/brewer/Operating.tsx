import { Box, Button, Paper, Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { TaughtButtons } from "../buttons/TaughtButtons";
import { NeedlePlan } from "../pictures/NeedlePlan";
import { Signals } from "./Signals";

const lines = [
  ["enter", "Enter the cleaning mode"],
  ["press", "One dispense"],
  ["cup", "A plain cup"],
  ["rearm", "Between presses"],
  ["leave", "Leave the mode"],
  ["purge", "Run it empty"],
] as const;

/** Buttons, signals and needles of a brewer, and where its things are kept. */
export function Operating({
  id,
  card,
  draft,
  needles,
}: {
  id: string;
  card: Schemas["BrewerCard"];
  draft: Schemas["BrewerDraft"];
  needles: Schemas["Needle"][];
}) {
  const sides = [draft.operation, draft.other_side?.operation].filter((operation) => operation !== undefined);
  const places = Object.entries(draft.places ?? {}).filter(([, place]) => place !== "");
  return (
    <Box
      sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr", lg: needles.length > 0 ? "1fr 1fr" : "1fr" } }}
    >
      <Paper component="section" aria-label="Buttons" sx={{ p: 2 }}>
        <Typography variant="h2" gutterBottom>
          Buttons
        </Typography>
        {sides.map((operation, i) => {
          const drawn = (operation.taught ?? []).map(({ part }) => part as string);
          const known = lines.filter(([field]) => operation[field] && !drawn.includes(field));
          return (
            <Box key={card.circuits[i]?.circuit_id ?? i} sx={{ mb: 1.5 }}>
              {sides.length > 1 && <Typography variant="h3">{card.circuits[i]?.name}</Typography>}
              <TaughtButtons brewer={id} circuit={card.circuits[i]?.circuit_id ?? "main"} />
              {known.map(([field, label]) => (
                <Typography key={field}>
                  <Typography component="span" color="textSecondary">
                    {label}:{" "}
                  </Typography>
                  {operation[field]}
                  {field === "enter" && operation.hold_seconds != null && `, held ${operation.hold_seconds} s`}
                </Typography>
              ))}
              {operation.healthy && (
                <Typography>
                  <Typography component="span" color="textSecondary">
                    When all is well:{" "}
                  </Typography>
                  {operation.healthy.seconds} s for the largest cup, {operation.healthy.streams}{" "}
                  {operation.healthy.streams === 1 ? "stream" : "streams"}
                </Typography>
              )}
              <Signals signals={operation.signals ?? []} />
              {known.length + drawn.length === 0 && (operation.signals ?? []).length === 0 && (
                <Typography color="textSecondary">
                  Nothing written down yet. Show it once, or copy it from the manual; every step then shows it.
                </Typography>
              )}
              <Button
                component={Link}
                to={`/brewers/${id}/buttons?side=${card.circuits[i]?.circuit_id ?? "main"}`}
                variant="outlined"
                sx={{ mt: 1 }}
              >
                {operation.panel ? "Teach them anew" : "Show what you press"}
              </Button>
            </Box>
          );
        })}
        {places.map(([what, place]) => (
          <Typography key={what}>
            <Typography component="span" color="textSecondary">
              The {what} is kept:{" "}
            </Typography>
            {place}
          </Typography>
        ))}
        <Stack direction="row" spacing={1} sx={{ mt: 1, flexWrap: "wrap" }}>
          <Button component={Link} to={`/brewers/${id}/edit`}>
            Write the buttons down
          </Button>
          <Button component={Link} to={`/brewers/${id}/plan?work=rehearsal`}>
            Rehearse with water
          </Button>
        </Stack>
      </Paper>
      {needles.length > 0 && (
        <Paper component="section" aria-label="Needles" sx={{ p: 2 }}>
          <Typography variant="h2" gutterBottom>
            Needles
          </Typography>
          <NeedlePlan needles={needles} clear={[]} />
          {draft.needles == null && (
            <Typography color="textSecondary">As usual for its kind; asked when they are cleared.</Typography>
          )}
          <Button component={Link} to={`/brewers/${id}/plan?work=needles`} variant="outlined" sx={{ mt: 1 }}>
            Just clear the needles
          </Button>
        </Paper>
      )}
    </Box>
  );
}
