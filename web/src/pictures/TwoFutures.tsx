import type { Schemas } from "../api/client";
import { ink } from "../theme";

const year = 365;

/** Two years ahead on one time line: chalk rises to the limit, and each clean takes it away. */
export function TwoFutures({ now, then }: { now: Schemas["Interval"]; then: Schemas["Interval"] }) {
  const [width, left, right] = [700, 10, 10];
  const x = (day: number) => left + ((width - left - right) * day) / year;
  const rows = [
    { title: "As it is", interval: now, y: 30 },
    { title: "As it would be", interval: then, y: 130 },
  ];
  return (
    <svg
      viewBox={`0 0 ${width} 222`}
      width="100%"
      role="img"
      aria-label={`A year ahead. As it is: a clean ${now.text}. As it would be: a clean ${then.text}.`}
    >
      {rows.map(({ title, interval, y }) => {
        const every = Math.max(1, interval.days);
        const cleans = Array.from({ length: Math.min(60, Math.floor(year / every)) }, (_, i) => (i + 1) * every);
        // What is cleaned for another reason has not reached the limit.
        const peak = interval.by === "chalk" ? 50 : 30;
        const teeth = [0, ...cleans].map((from) => {
          const to = Math.min(from + every, year);
          return `M${x(from)} ${y + 60} L${x(to)} ${y + 60 - (peak * (to - from)) / every} V${y + 60} Z`;
        });
        return (
          <g key={title}>
            <text x={left} y={y - 8} fontSize="17" fontWeight="700" fill="currentColor">
              {title}: {interval.a_year_text}
              {interval.by === "hygiene" && ", for hygiene"}
            </text>
            <path d={teeth.join("")} fill={ink.chalk} stroke={ink.chalkEdge} strokeWidth="1.5" />
            <path d={`M${left} ${y + 10}H${width - right}`} stroke="currentColor" strokeDasharray="5 5" opacity="0.5" />
            <path d={`M${left} ${y + 60}H${width - right}`} stroke="currentColor" strokeWidth="2" />
            {cleans.map((day) => (
              <path
                key={day}
                d={`M${x(day)} ${y + 4}V${y + 66}`}
                stroke="var(--mui-palette-primary-main)"
                strokeWidth="4"
              />
            ))}
          </g>
        );
      })}
      {[0, 3, 6, 9, 12].map((month) => (
        <text
          key={month}
          x={x((month * year) / 12)}
          y="216"
          fontSize="15"
          textAnchor={month === 0 ? "start" : month === 12 ? "end" : "middle"}
          fill="currentColor"
        >
          {month === 0 ? "today" : `${month} months`}
        </text>
      ))}
    </svg>
  );
}
