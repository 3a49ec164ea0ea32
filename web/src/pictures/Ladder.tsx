import type { Schemas } from "../api/client";
import { ink } from "../theme";

/** One rung per rinse on a log scale, from sharp to nobody notices; counted rungs fill, schools are ticks. */
export function Ladder({
  levels,
  target,
  counted = 0,
  schools = [],
}: {
  levels: number[];
  target: number;
  counted?: number;
  schools?: Schemas["School"][];
}) {
  const top = Math.log10(levels[0] ?? 1);
  const bottom = Math.log10(target) - 0.3;
  const y = (mg: number) => 14 + ((top - Math.log10(Math.max(mg, 1e-9))) / (top - bottom)) * 190;
  const n = levels.length - 1;
  const step = 250 / Math.max(n, 1);
  const ticks = schools.filter((school) => school.portions <= n * 1.15);
  const label = `Rinse ladder: ${counted} of ${n} counted, from sharp down to where nobody notices the acid`;
  return (
    <svg viewBox="0 0 340 258" width="100%" style={{ maxWidth: 420 }} role="img" aria-label={label}>
      <rect x="40" y={y(target)} width="270" height={218 - y(target)} fill={ink.rinse} opacity="0.45" />
      <path d={`M40 ${y(target)} H310`} stroke="currentColor" strokeDasharray="5 4" />
      {levels.map((mg, i) => {
        const done = i <= counted;
        const x = 46 + i * step;
        return (
          <g key={i}>
            <rect
              x={x - Math.min(step, 16) / 2 + 1}
              y={Math.min(y(mg), 214)}
              width={Math.max(3, Math.min(step, 16) - 2)}
              height={Math.max(4, 218 - y(mg))}
              fill={done ? ink.bath : "none"}
              stroke="currentColor"
              strokeWidth="1.2"
              rx="2"
            />
          </g>
        );
      })}
      {ticks.map((school) => (
        <path key={school.name} d={`M${46 + school.portions * step} 220 v10`} stroke={ink.chalkEdge} strokeWidth="3" />
      ))}
      <g fill="currentColor" fontSize="13">
        <text x="40" y="10">
          sharp
        </text>
        <text x="334" y="44" textAnchor="end">
          – – below it nobody notices
        </text>
        {ticks.length > 0 && (
          <text x="334" y="62" textAnchor="end">
            <tspan fill={ink.chalkEdge}>▌</tspan>where others stop
          </text>
        )}
        <text x="46" y="248">
          0
        </text>
        <text x={46 + n * step} y="248" textAnchor="end">
          {n} rinses
        </text>
      </g>
    </svg>
  );
}
