import type { Schemas } from "../api/client";
import { ink } from "../theme";

/** Chalk as it sits on the mouth of a tap: where, how far down, how thick. */
const crusts: Record<Schemas["TapChalk"], { rim: number; drips: string }> = {
  none: { rim: 0, drips: "" },
  film: { rim: 3, drips: "" },
  crust: { rim: 9, drips: "M86 74v10M94 74v14M102 74v9" },
  flakes: { rim: 15, drips: "M82 76v16M89 76v24M97 76v20M105 76v13" },
};

/** A tap with so much chalk on it. */
export function Tap({ chalk }: { chalk: Schemas["TapChalk"] }) {
  const { rim, drips } = crusts[chalk];
  return (
    <svg viewBox="0 0 130 110" width="100%" style={{ maxWidth: 120 }} aria-hidden>
      <path d="M14 96V44q0 -24 26 -24h28q30 0 30 30v20h-16v-18q0 -14 -15 -14H44q-12 0 -12 12v46z" fill={ink.metal} />
      <path d="M30 20v-10h32v10" fill="none" stroke={ink.metal} strokeWidth="8" />
      {rim > 0 && (
        <path
          d={`M${82 - rim / 3} ${72 - rim} h${16 + (2 * rim) / 3} l${rim / 4} ${rim} h${-16 - rim} z`}
          fill={ink.chalk}
          stroke={ink.chalkEdge}
          strokeWidth="1.5"
        />
      )}
      {drips && <path d={drips} stroke={ink.chalkEdge} strokeWidth="7" strokeLinecap="round" />}
      {drips && <path d={drips} stroke={ink.chalk} strokeWidth="4" strokeLinecap="round" />}
      <path
        d={chalk === "flakes" ? "M92 104v4" : "M91 90v16"}
        stroke={ink.water}
        strokeWidth="5"
        strokeLinecap="round"
      />
    </svg>
  );
}
