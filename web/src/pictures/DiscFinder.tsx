import { Box, Stack, Typography } from "@mui/material";
import type { Schemas } from "../api/client";
import { ink } from "../theme";

type Reader = Schemas["ReaderWindow"];

const lies: Record<Reader, { words: string; degrees: number }> = {
  beside_slot: { words: "beside", degrees: 32 },
  right_angle: { words: "at a right angle to", degrees: 90 },
};

/** The tray from above and the disc that fits it; both cases where nobody has looked yet. */
export function DiscFinder({ reader, size = 150 }: { reader: Reader | null; size?: number }) {
  const shown = reader ? [reader] : (Object.keys(lies) as Reader[]);
  return (
    <Stack direction="row" sx={{ flexWrap: "wrap", gap: 2 }}>
      {shown.map((name) => (
        <Box key={name} component="figure" sx={{ m: 0, maxWidth: 2 * size }}>
          <Stack direction="row" spacing={1}>
            <Tray degrees={lies[name].degrees} size={size} />
            <Disc degrees={lies[name].degrees} size={size} />
          </Stack>
          <Typography component="figcaption" variant="body2">
            Reader window {lies[name].words} the slot: the disc’s code lies {lies[name].words} its tab.
          </Typography>
        </Box>
      ))}
    </Stack>
  );
}

const text = { fontSize: 13, fill: "currentColor", textAnchor: "middle" } as const;

/** Under the lifted tray: the slot for its grip is at the bottom, the window where it may lie. */
function Tray({ degrees, size }: { degrees: number; size: number }) {
  return (
    <svg viewBox="-80 -84 160 190" width={size} aria-hidden>
      <circle r="66" fill={ink.metal} opacity="0.18" />
      <circle r="66" fill="none" stroke="currentColor" strokeWidth="2.5" />
      <path d="M-13 58 V80 H13 V58" fill="none" stroke="currentColor" strokeWidth="2.5" />
      <g transform={`rotate(${-degrees})`}>
        <rect x="-12" y="38" width="24" height="20" rx="3" fill="currentColor" />
      </g>
      <text y="-22" {...text}>
        under the tray
      </text>
      <text y="99" {...text}>
        slot
      </text>
    </svg>
  );
}

/** The service disc: its tab at the bottom, its code where the window must see it. */
function Disc({ degrees, size }: { degrees: number; size: number }) {
  return (
    <svg viewBox="-80 -84 160 190" width={size} aria-hidden>
      <circle r="62" fill={ink.chalk} stroke="currentColor" strokeWidth="2.5" />
      <path d="M-11 60 V80 H11 V60" fill={ink.chalk} stroke="currentColor" strokeWidth="2.5" />
      <g transform={`rotate(${-degrees})`} stroke="#16244a" strokeWidth="3">
        {[-9, -3, 3, 9].map((x) => (
          <path key={x} d={`M${x} 38 V56`} />
        ))}
      </g>
      <text y="-22" fontSize="13" fill="#16244a" textAnchor="middle">
        disc
      </text>
      <text y="99" {...text}>
        tab
      </text>
    </svg>
  );
}
