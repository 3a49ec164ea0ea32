import { Box, Typography } from "@mui/material";
import type { Schemas } from "../api/client";

const clock = (minutes: number) => `${Math.round(minutes)}`;

/** Solid blocks need hands, open track does not; flags tell when to come back. */
export function TimeRibbon({ ribbon }: { ribbon: Schemas["Ribbon"] }) {
  const scale = 1000 / ribbon.elapsed_min;
  const free = ribbon.stretches.filter((s) => !s.hands_on && s.minutes >= 5);
  return (
    <Box>
      <svg
        viewBox="0 -26 1000 72"
        width="100%"
        role="img"
        aria-label={`Time: ${ribbon.text}`}
        preserveAspectRatio="none"
        height="72"
      >
        {ribbon.stretches.map((s) =>
          s.hands_on ? (
            <rect
              key={`${s.step}h`}
              x={s.start_min * scale}
              y="8"
              width={Math.max(2, s.minutes * scale - 2)}
              height="30"
              rx="3"
              fill="var(--mui-palette-primary-main)"
            />
          ) : (
            <path
              key={`${s.step}f`}
              d={`M${s.start_min * scale} 10 h${s.minutes * scale} M${s.start_min * scale} 36 h${s.minutes * scale}`}
              stroke="currentColor"
              strokeWidth="2"
              strokeDasharray="6 5"
            />
          ),
        )}
        {free.map((s) => (
          <path
            key={s.step}
            d={`M${(s.start_min + s.minutes) * scale} 38 V-22 l22 9 l-22 9`}
            fill="var(--mui-palette-warning-main)"
            stroke="var(--mui-palette-warning-main)"
            strokeWidth="2"
          />
        ))}
      </svg>
      <Typography variant="body2" color="textSecondary">
        Solid: your hands are needed. Dashed:{" "}
        {free.length === 0
          ? "nothing to wait for."
          : free
              .map((s) => `${s.label.toLowerCase()}, come back by minute ${clock(s.start_min + s.minutes)}`)
              .join("; ")}
      </Typography>
    </Box>
  );
}
