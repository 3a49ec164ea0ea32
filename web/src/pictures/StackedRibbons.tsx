import { Box, Typography } from "@mui/material";
import type { Schemas } from "../api/client";

/** Upright ticks along a stretch. */
function ticks(from: number, width: number) {
  const n = Math.max(1, Math.floor(width / 12));
  return Array.from({ length: n }, (_, i) => `M${from + ((i + 0.5) * width) / n} 6 V18`).join(" ");
}

/** A visit as ribbons on one scale, a line for each brewer and room: solid is hands, ticked near, open free. */
export function StackedRibbons({ ordered, longest }: { ordered: Schemas["Ordered"]; longest?: number }) {
  const all = Math.max(longest ?? 0, ordered.minutes, 1);
  const scale = 1000 / all;
  const main = "var(--mui-palette-primary-main)";
  const hour = all > 150 ? 60 : 30;
  const marks = Array.from({ length: Math.floor(all / hour) }, (_, n) => (n + 1) * hour);
  return (
    <Box role="img" aria-label={`${ordered.text}: ${ordered.lines.map((line) => line.name).join(", ")}`}>
      {ordered.lines.map((line) => (
        <Box
          key={line.id}
          sx={{
            display: "grid",
            gridTemplateColumns: { xs: "1fr", sm: "190px 1fr" },
            alignItems: "center",
            columnGap: 1,
            py: 0.25,
          }}
        >
          <Typography variant="body2" noWrap>
            {line.name}
          </Typography>
          <svg viewBox="0 0 1000 24" width="100%" height="24" preserveAspectRatio="none" aria-hidden>
            {marks.map((at) => (
              <path key={at} d={`M${at * scale} 0V24`} stroke="var(--mui-palette-divider)" strokeWidth="2" />
            ))}
            {line.pieces.map((piece) => {
              const x = piece.start_min * scale;
              const width = Math.max(1.5, piece.minutes * scale - 1);
              const key = `${piece.does} ${piece.label} ${piece.start_min}`;
              if (piece.does === "hands") return <rect key={key} x={x} y="2" width={width} height="20" fill={main} />;
              if (piece.does === "near")
                return (
                  <g key={key} stroke={main} fill="none">
                    <rect x={x} y="4" width={width} height="16" strokeWidth="1.5" />
                    <path d={ticks(x, width)} strokeWidth="3" />
                  </g>
                );
              return (
                <path
                  key={key}
                  d={`M${x} 5 h${width} M${x} 19 h${width}`}
                  stroke="currentColor"
                  strokeWidth="2"
                  strokeDasharray="6 5"
                />
              );
            })}
          </svg>
        </Box>
      ))}
      <Box
        sx={{
          display: "flex",
          justifyContent: "space-between",
          typography: "body2",
          color: "text.secondary",
          ml: { xs: 0, sm: "198px" },
        }}
      >
        <span>0</span>
        <span>{Math.round(all)} min</span>
      </Box>
    </Box>
  );
}
