import { Box, Typography } from "@mui/material";
import type { Schemas } from "../api/client";

/** What each signal of a brewer means. */
export const meanings: Record<Schemas["Meaning"], string> = {
  your_turn: "your turn",
  working: "working, leave it",
  wants_water: "wants water",
  done: "done",
  asks_for_descaling: "asks for descaling",
};

/** What the machine shows, as written down for this brewer. */
export function Signals({ signals }: { signals: Schemas["Signal"][] }) {
  if (signals.length === 0) return null;
  return (
    <Box
      component="dl"
      aria-label="What it shows"
      sx={{ m: 0, display: "grid", gridTemplateColumns: "auto 1fr", columnGap: 2 }}
    >
      {signals.map((signal) => (
        <Box key={signal.seen} sx={{ display: "contents" }}>
          <Typography component="dt">{signal.seen}</Typography>
          <Typography component="dd" sx={{ m: 0, fontWeight: 700 }}>
            {meanings[signal.means]}
          </Typography>
        </Box>
      ))}
    </Box>
  );
}
