import { Box, Typography } from "@mui/material";
import type { Schemas } from "../api/client";

const minutes = (value: number) => `${Math.round(value)}`;

/** Upright ticks along a stretch. */
const ticks = (from: number, length: number) => {
  const n = Math.max(1, Math.floor(length / 14));
  const at = (i: number) => from + ((i + 0.5) * length) / n;
  return Array.from({ length: n }, (_, i) => `M${at(i)} 14 V32`).join(" ");
};

/**
 * Solid blocks need hands, ticked ones want one near, open track does not; what fits lies inside, and flags tell when to come
 * back. Shape alone tells them apart.
 */
export function TimeRibbon({ ribbon }: { ribbon: Schemas["Ribbon"] }) {
  const scale = 1000 / ribbon.elapsed_min;
  const inside = (step: string) => ribbon.stretches.filter((s) => s.during === step);
  const free = ribbon.stretches.filter((s) => !s.hands_on && !s.near && s.minutes >= 5);
  // A short wait has its minute in the lines below.
  const labelled = free.filter((s) => s.minutes > 0.25 * ribbon.elapsed_min);
  const percent = (at: number) => `${(100 * at) / ribbon.elapsed_min}%`;
  return (
    <Box>
      <Box sx={{ position: "relative", height: free.length > 0 ? 22 : 0 }} aria-hidden>
        {labelled.map((s) => (
          <Typography
            key={s.step}
            variant="body2"
            sx={{
              position: "absolute",
              left: percent(s.start_min),
              width: percent(s.minutes),
              textAlign: "right",
              pr: 1,
              whiteSpace: "nowrap",
              overflow: "hidden",
            }}
          >
            back by <strong>{minutes(s.start_min + s.minutes)}</strong>
          </Typography>
        ))}
      </Box>
      <svg
        viewBox="0 -14 1000 60"
        width="100%"
        role="img"
        aria-label={`Time: ${ribbon.text}`}
        preserveAspectRatio="none"
        height="60"
      >
        {ribbon.stretches.map((s) =>
          s.hands_on ? (
            <rect
              key={`${s.step}h`}
              x={s.start_min * scale + 1}
              y={s.during ? 17 : 8}
              width={Math.max(2, s.minutes * scale - 2)}
              height={s.during ? 12 : 30}
              fill="var(--mui-palette-primary-main)"
              fillOpacity={s.during ? 0.45 : 1}
            />
          ) : s.near ? (
            <g key={`${s.step}n`} fill="none" stroke="var(--mui-palette-primary-main)" strokeWidth="2">
              <rect x={s.start_min * scale + 1} y={8} width={Math.max(2, s.minutes * scale - 2)} height={30} />
              <path d={ticks(s.start_min * scale, s.minutes * scale)} strokeWidth="5" />
            </g>
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
            d={`M${(s.start_min + s.minutes) * scale} 44 V-13 l-16 9 l16 9`}
            fill="var(--mui-palette-warning-main)"
            stroke="var(--mui-palette-warning-main)"
            strokeWidth="2"
          />
        ))}
      </svg>
      <Box
        sx={{ display: "flex", justifyContent: "space-between", typography: "body2", color: "text.secondary" }}
        aria-hidden
      >
        <span>0</span>
        <span>{minutes(ribbon.elapsed_min)} min</span>
      </Box>
      <Typography variant="body2" color="textSecondary">
        Solid: your hands. Ticked: stay near, a hand now and then.{" "}
        {free.length === 0 ? "There is nothing to wait for." : "Open: you are free."}
      </Typography>
      {free.map((s) => (
        <Typography key={s.step} variant="body2">
          <strong>{s.label}</strong>, {minutes(s.minutes)} min
          {inside(s.step).length > 0 &&
            `: ${inside(s.step)
              .map((i) => i.label.toLowerCase())
              .join(", ")}`}
          . Come back by minute {minutes(s.start_min + s.minutes)}.
        </Typography>
      ))}
    </Box>
  );
}
