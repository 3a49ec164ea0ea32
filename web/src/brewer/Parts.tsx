import { Box, Button, Paper, Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import { type Schemas, send, useChange } from "../api/client";
import { DayField } from "../ui/DayField";
import { ErrorNotice } from "../ui/Notices";
import { useUndo } from "../ui/Undo";

/** The parts of a clean over days: what is done, and on which days the rest is. */
export function Parts({ id, side, part }: { id: string; side: string; part: Schemas["PartShown"] }) {
  const offerUndo = useUndo();
  const move = useChange((days: string[]) => send.moveParts(part.over_id, days));
  const restore = useChange(() => send.restoreParts(part.over_id));
  const off = useChange(() => send.deleteParts(part.over_id));
  const toCome = part.days.filter((day) => !day.is_done);
  return (
    <Paper component="section" aria-label="Over days" sx={{ p: 2 }}>
      <Typography variant="h2">Over days: {part.text}</Typography>
      <Stack direction="row" sx={{ gap: 2, my: 1.5, flexWrap: "wrap", alignItems: "center" }}>
        {part.days.map((one, n) =>
          one.is_done ? (
            <Typography key={one.day}>Part {n + 1}: done</Typography>
          ) : (
            <DayField
              key={n}
              label={`Part ${n + 1}`}
              value={one.day}
              width={210}
              onChange={(day) =>
                day !== "" && move.mutate(toCome.map((other) => (other.day === one.day ? day : other.day)))
              }
            />
          ),
        )}
      </Stack>
      <Typography sx={{ mb: 1 }}>Between the parts it is rinsed, and may be brewed with.</Typography>
      <Box>
        <Button
          component={Link}
          to={`/brewers/${id}/plan?side=${side}`}
          variant={part.is_due ? "contained" : "outlined"}
        >
          Plan the next part
        </Button>{" "}
        <Button
          color="inherit"
          variant="outlined"
          disabled={off.isPending}
          onClick={() =>
            off.mutate(undefined, {
              onSuccess: () => offerUndo({ text: "The rest was called off", undo: () => restore.mutate(undefined) }),
            })
          }
        >
          Call the rest off
        </Button>
      </Box>
      <ErrorNotice error={move.error ?? off.error ?? restore.error} />
    </Paper>
  );
}
