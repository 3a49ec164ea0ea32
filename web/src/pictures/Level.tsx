import { useId } from "react";
import { ink } from "../theme";

const shapes = {
  bottle: "M34 6 h32 v18 q16 8 16 26 v88 q0 10 -10 10 h-44 q-10 0 -10 -10 v-88 q0 -18 16 -26 z",
  bag: "M20 16 q30 -10 60 0 l6 124 q-36 14 -72 0 z",
  box: "M14 34 h72 v112 h-72 z",
} as const;

/** A vessel of the cupboard with what is left in it; outlined with a broken line where nobody has counted. */
export function Level({
  shape,
  fill,
  text,
  size = 72,
}: {
  shape: keyof typeof shapes;
  fill: number | null;
  text: string;
  size?: number;
}) {
  const id = useId();
  const top = 148 - 140 * (fill ?? 0);
  return (
    <svg
      width={size}
      height={size * 1.54}
      viewBox="0 0 100 154"
      role="img"
      aria-label={text}
      style={{ flexShrink: 0, width: size }}
    >
      <clipPath id={id}>
        <path d={shapes[shape]} />
      </clipPath>
      {fill !== null && (
        <g clipPath={`url(#${id})`}>
          <rect x="0" y={top} width="100" height={154 - top} fill={shape === "bottle" ? ink.bath : ink.chalk} />
          <path d={`M0 ${top} h100`} stroke="currentColor" strokeWidth="2" />
        </g>
      )}
      <path
        d={shapes[shape]}
        fill="none"
        stroke="currentColor"
        strokeWidth="3"
        strokeDasharray={fill === null ? "6 5" : undefined}
      />
      {shape === "box" && <path d="M14 34 l14 -18 h72 l-14 18" fill="none" stroke="currentColor" strokeWidth="3" />}
    </svg>
  );
}
