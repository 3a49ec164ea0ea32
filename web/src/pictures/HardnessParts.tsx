import { useId } from "react";
import type { Schemas } from "../api/client";
import { ink } from "../theme";

/** A glass of the water: what heat turns to chalk lies as crust below, what stays dissolved floats above. */
export function HardnessParts({ portrait }: { portrait: Schemas["Portrait"] }) {
  const id = useId();
  const [glass, floor] = [150, 176];
  const scale = glass / Math.max(400, portrait.hardness);
  const [crust, rest] = [portrait.carbonate * scale, portrait.permanent * scale];
  const words = [
    `${Math.round(portrait.carbonate)} mg/L carbonate hardness: heat turns it to chalk`,
    `${Math.round(portrait.permanent)} mg/L permanent hardness: stays dissolved`,
  ];
  return (
    <svg viewBox="0 0 330 190" width="100%" style={{ maxWidth: 430 }} role="img" aria-label={words.join("; ")}>
      <defs>
        <pattern id={`${id}h`} width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(40)">
          <rect width="6" height="6" fill={ink.chalk} />
          <path d="M0 0v6" stroke={ink.chalkEdge} opacity="0.55" />
        </pattern>
        <pattern id={`${id}d`} width="9" height="9" patternUnits="userSpaceOnUse">
          <circle cx="4" cy="4" r="1.6" fill={ink.chalkEdge} />
        </pattern>
      </defs>
      <path d={`M20 14 L28 ${floor} H112 L120 14`} fill="none" stroke="currentColor" strokeWidth="3" />
      <rect x="27" y="26" width="86" height={floor - 28} fill={ink.water} opacity="0.22" />
      <rect x="28" y={floor - 2 - crust} width="84" height={crust} fill={`url(#${id}h)`} stroke={ink.chalkEdge} />
      <rect x="28" y={floor - 2 - crust - rest} width="84" height={rest} fill={`url(#${id}d)`} />
      {[
        ["Carbonate", portrait.carbonate, "heat turns it to chalk", 128],
        ["Permanent", portrait.permanent, "stays dissolved", 48],
      ].map(([name, value, what, y]) => (
        <text key={name} x="136" y={y} fontSize="15" fill="currentColor">
          <tspan fontWeight="700">
            {name} {Math.round(Number(value))} mg/L
          </tspan>
          <tspan x="136" dy="20">
            {what}
          </tspan>
        </text>
      ))}
    </svg>
  );
}
