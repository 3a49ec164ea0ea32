import { Box } from "@mui/material";
import type { Schemas } from "../api/client";

/** How each work stands on the line: a descaling as a full drop, needles as a point, small works as a tick. */
const marks: Record<Schemas["Work"], { word: string; path: string; filled: boolean }> = {
  descale: { word: "descaling", path: "M0 -17 q11 13 11 19 a11 11 0 0 1 -22 0 q0 -6 11 -19z", filled: true },
  needles: { word: "needles", path: "M-7 -12 H7 L0 13z", filled: false },
  upkeep: { word: "small work", path: "M0 -9 V11", filled: false },
  rehearsal: { word: "rehearsal", path: "M0 -9 V11", filled: false },
};
const shown = ["descale", "needles", "upkeep"] as const;
const months = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

/** A year in one line, with what was done in it. */
export function YearLine({ line }: { line: Schemas["YearLine"] }) {
  const x = (at: number) => 16 + at * 968;
  const words = line.cleans.map((clean) => clean.text).join("; ");
  const known = shown.filter((work) => line.cleans.some((clean) => clean.work === work));
  return (
    // On a phone every third month is named, and can be read.
    <Box sx={{ "& .month": { fontSize: { xs: 36, md: 19 } }, "& .between": { display: { xs: "none", md: "inline" } } }}>
      <svg
        viewBox="0 0 1000 102"
        width="100%"
        role="img"
        aria-label={`${line.year}: ${words}`}
        style={{ minHeight: 44 }}
      >
        <path d="M16 48 H984" stroke="currentColor" strokeWidth="2" />
        {months.map((month, n) => (
          <g key={month}>
            <path d={`M${x(n / 12)} 42 v12`} stroke="currentColor" strokeWidth="1.5" />
            <text
              x={x((n + 0.5) / 12)}
              y="92"
              textAnchor="middle"
              fill="currentColor"
              className={n % 3 === 0 ? "month" : "month between"}
            >
              {month}
            </text>
          </g>
        ))}
        {line.cleans.map((clean, n) => {
          const { path, filled } = marks[clean.work];
          return (
            <path
              key={`${clean.at}-${n}`}
              d={path}
              transform={`translate(${x(clean.at)} 38)`}
              fill={filled ? "var(--mui-palette-primary-main)" : "var(--mui-palette-background-paper)"}
              stroke={filled ? "var(--mui-palette-background-paper)" : "currentColor"}
              strokeWidth="2.5"
            >
              <title>{clean.text}</title>
            </path>
          );
        })}
      </svg>
      <Box aria-hidden sx={{ display: "flex", gap: 2, color: "text.secondary", fontSize: "0.9rem" }}>
        {known.map((work) => (
          <Box key={work} component="span" sx={{ display: "inline-flex", alignItems: "center", gap: 0.5 }}>
            <svg viewBox="-14 -20 28 36" width="16" height="20" aria-hidden>
              <path
                d={marks[work].path}
                fill={marks[work].filled ? "var(--mui-palette-primary-main)" : "none"}
                stroke={marks[work].filled ? "none" : "currentColor"}
                strokeWidth="2.5"
              />
            </svg>
            {marks[work].word}
          </Box>
        ))}
      </Box>
    </Box>
  );
}
