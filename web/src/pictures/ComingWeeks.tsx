import { Box, Paper, Stack, Typography } from "@mui/material";
import type { Schemas } from "../api/client";

/** So many names have room in a week. */
const NAMES = 2;

/** The coming weeks side by side, the darker the likelier something falls due; what is expected stands under its week. */
export function ComingWeeks({ weeks }: { weeks: Schemas["ComingWeek"][] }) {
  const expected = weeks.filter((week) => week.brewers.length > 0);
  return (
    <Paper component="section" aria-label="The coming weeks" sx={{ p: 2 }}>
      <Typography variant="h2" gutterBottom>
        The coming weeks
      </Typography>
      {expected.length === 0 && <Typography>Nothing is expected to fall due in the next eight weeks.</Typography>}
      <Box
        component="ol"
        sx={{
          display: "grid",
          gridTemplateColumns: `repeat(${weeks.length}, minmax(0, 1fr))`,
          columnGap: 0.5,
          listStyle: "none",
          p: 0,
          m: 0,
        }}
      >
        {weeks.map((week) => (
          <Box component="li" key={week.from} aria-label={week.text} title={week.text}>
            <Box
              sx={{
                position: "relative",
                height: 30,
                border: 1,
                borderColor: "divider",
                borderRadius: 1,
                overflow: "hidden",
              }}
            >
              <Box
                sx={{ position: "absolute", inset: 0, bgcolor: "primary.main", opacity: 0.08 + 0.72 * week.chance }}
              />
            </Box>
            <Typography sx={{ fontSize: { xs: "0.78rem", md: "0.95rem" }, lineHeight: 1.25, mt: 0.5 }}>
              {week.label}
            </Typography>
            <Stack sx={{ display: { xs: "none", md: "flex" } }}>
              {week.brewers.slice(0, NAMES).map((brewer) => (
                <Typography
                  key={brewer.brewer_id}
                  sx={{ fontSize: "0.85rem", py: 0.5, lineHeight: 1.2, overflowWrap: "anywhere" }}
                >
                  {brewer.nickname}, {brewer.on}
                </Typography>
              ))}
              {week.brewers.length > NAMES && (
                <Typography sx={{ fontSize: "0.85rem" }} color="textSecondary">
                  and {week.brewers.length - NAMES} more
                </Typography>
              )}
            </Stack>
          </Box>
        ))}
      </Box>
      <Stack
        component="ul"
        sx={{ display: { xs: "flex", md: "none" }, listStyle: "none", p: 0, m: 0, mt: 1, gap: 0.5 }}
      >
        {expected.slice(0, 3).map((week) => (
          <Typography component="li" key={week.from}>
            {week.text}
          </Typography>
        ))}
      </Stack>
    </Paper>
  );
}
