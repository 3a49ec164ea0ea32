import { useId } from "react";
import type { Schemas } from "../api/client";
import { ink } from "../theme";

/** Cross-section of the water path: the crust grows inwards with the share of the budget used. */
export function Bore({
  chalk,
  size = 96,
  plain = false,
}: {
  chalk: Schemas["Chalk"];
  size?: number;
  /** Without its figure, where that stands beside it. */
  plain?: boolean;
}) {
  const id = useId();
  const open = (used: number) => 40 * (1 - (0.8 * Math.min(used, 1.2)) / 1.2);
  const [median, low, high] = [open(chalk.used), open(chalk.used_low), open(chalk.used_high)];
  // "95 % of the limit", the figure above what it is held against.
  const [, figure, against] = /^(.*?) ((?:of )?the limit)$/.exec(chalk.of_limit ?? "") ?? ["", chalk.of_limit, ""];
  return (
    <svg
      width={size}
      height={plain ? size : size * 1.36}
      viewBox={plain ? "0 0 100 100" : "0 0 100 136"}
      style={{ flexShrink: 0 }}
      role="img"
      aria-label={`Chalk: ${[chalk.of_limit, chalk.text].filter(Boolean).join(", ")}`}
    >
      <defs>
        <pattern id={`${id}h`} width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(40)">
          <rect width="5" height="5" fill={ink.chalk} />
          <path d="M0 0v5" stroke={ink.chalkEdge} strokeWidth="1" opacity="0.55" />
        </pattern>
      </defs>
      <circle cx="50" cy="50" r="47" fill={ink.metal} />
      <circle cx="50" cy="50" r="41" fill={`url(#${id}h)`} />
      <circle cx="50" cy="50" r={low} fill={ink.water} opacity="0.35" />
      <circle
        cx="50"
        cy="50"
        r={median}
        fill={ink.water}
        opacity="0.6"
        stroke={ink.chalkEdge}
        strokeWidth="1.5"
        strokeDasharray="3 2"
      />
      <circle cx="50" cy="50" r={high} fill={ink.water} />
      {!plain && (
        <text x="50" y="117" textAnchor="middle" fontWeight="700" fill="currentColor">
          <tspan fontSize="17">{figure}</tspan>
          <tspan x="50" dy="15" fontSize="13" fontWeight="400">
            {against}
          </tspan>
        </text>
      )}
    </svg>
  );
}
