import type { Schemas } from "../api/client";
import { ink } from "../theme";

const [left, width, top, height] = [64, 920, 54, 26];

/** Hardness from soft to very hard with its classes, and each water standing on it. */
export function Ruler({
  classes,
  scales,
  waters,
  chosen,
}: {
  classes: Schemas["RulerClass"][];
  scales: Schemas["RulerScale"][];
  waters: Schemas["WaterView"][];
  chosen: string;
}) {
  const end = classes.at(-1)?.to ?? 1;
  const x = (hardness: number) => left + (width * Math.min(hardness, end)) / end;
  const here = waters.find((w) => w.water.id === chosen);
  const standing = waters.filter((w) => w.portrait);
  return (
    <svg
      viewBox={`0 0 1000 ${118 + 24 * scales.length}`}
      width="100%"
      style={{ display: "block", minWidth: 620 }}
      role="img"
      aria-label={`Hardness ruler: ${standing.map((w) => `${w.water.name} ${w.portrait?.in_units[0]}`).join(", ")}`}
    >
      {classes.map((c, i) => (
        <g key={c.name}>
          <rect
            x={x(c.from)}
            y={top}
            width={x(c.to) - x(c.from)}
            height={height}
            fill={ink.chalk}
            fillOpacity={0.25 + 0.25 * i}
            stroke={ink.chalkEdge}
          />
          <text x={(x(c.from) + x(c.to)) / 2} y={top + 48} textAnchor="middle" fontSize="16" fill="currentColor">
            {c.name}
          </text>
        </g>
      ))}
      {scales.map((scale, row) => (
        <g key={scale.unit} fontSize="14" fill="currentColor">
          <text x={left - 10} y={top + 78 + 24 * row} textAnchor="end">
            {scale.unit}
          </text>
          {scale.ticks.map((tick) => (
            <g key={tick.at}>
              <path d={`M${x(tick.at)} ${top + 60 + 24 * row}v5`} stroke="currentColor" />
              <text x={x(tick.at)} y={top + 78 + 24 * row} textAnchor="middle">
                {tick.label}
              </text>
            </g>
          ))}
        </g>
      ))}
      {standing.map((w) => {
        const at = x(w.portrait?.hardness ?? 0);
        return w === here ? (
          <g key={w.water.id}>
            <path
              d={`M${at} ${top + height} v-${height + 10} l-9 -13 h18 l-9 13`}
              fill="currentColor"
              stroke="currentColor"
              strokeWidth="3"
            />
            <text
              x={Math.min(Math.max(at, 130), 870)}
              y={20}
              textAnchor="middle"
              fontSize="18"
              fontWeight="700"
              fill="currentColor"
            >
              {w.portrait?.in_units[0]}
            </text>
          </g>
        ) : (
          <path
            key={w.water.id}
            d={`M${at} ${top + height} v-${height + 8}`}
            stroke="currentColor"
            strokeWidth="3"
            opacity="0.55"
          />
        );
      })}
    </svg>
  );
}
