import { Box, Typography } from "@mui/material";
import type { Schemas } from "../api/client";
import { ink } from "../theme";

/** Drawn tints from clear to dark brown; the words come with the glass. */
export const tintInk = ["#e8f3f8", "#f3ecd2", "#ecd9a0", "#d9a85a", "#a66a2c", "#5b3616"] as const;

/** One glass, filled to the same height, in its tint; `unknown` is drawn hatched. */
export function GlassPicture({ rating, size = 64 }: { rating: number | null | undefined; size?: number }) {
  const tint = rating == null ? undefined : tintInk[rating];
  return (
    <svg viewBox="0 0 60 80" height={size} aria-hidden>
      <path d="M11 22 L15 74 H45 L49 22z" fill={tint ?? "none"} />
      {tint === undefined && (
        <path d="M12 34 L46 60 M12 48 L44 73 M20 22 L48 44" stroke={ink.metal} strokeWidth="1.5" />
      )}
      <path d="M8 6 L15 75 H45 L52 6" fill="none" stroke="currentColor" strokeWidth="3" strokeLinejoin="round" />
    </svg>
  );
}

/** The glasses side by side, as they were looked at. */
export function GlassRow({ glasses, photoAt }: { glasses: Schemas["Glass"][]; photoAt?: (photo: string) => string }) {
  return (
    <Box
      component="ol"
      aria-label="Glasses"
      sx={{ m: 0, p: 0, display: "flex", flexWrap: "wrap", gap: 1.5, listStyle: "none" }}
    >
      {glasses.map((glass) => (
        <Box
          component="li"
          key={`${glass.of}${glass.round}`}
          sx={{ width: 116, textAlign: "center", border: 1, borderColor: "divider", borderRadius: 1, p: 1 }}
        >
          {glass.photo && photoAt ? (
            <img
              src={photoAt(glass.photo)}
              alt={`Photo: ${glass.label}`}
              style={{ width: "100%", height: 64, objectFit: "cover", borderRadius: 6 }}
            />
          ) : (
            <GlassPicture rating={glass.rating} />
          )}
          <Typography sx={{ fontWeight: 700, lineHeight: 1.2 }}>{glass.label}</Typography>
          <Typography variant="body2">{glass.text}</Typography>
          {glass.percent != null && (
            <Typography variant="body2" color="textSecondary">
              {glass.percent.toFixed(1)} %
            </Typography>
          )}
        </Box>
      ))}
    </Box>
  );
}
