import { useMediaQuery } from "@mui/material";
import { useId } from "react";
import type { Schemas } from "../api/client";
import { ink } from "../theme";

type Point = Schemas["Point"];
const time = (day: string) => Date.parse(day);

/** Chalk over time: from clean to clean with its uncertainty, and the fan of what comes, up to the due window. */
export function ChalkChart({
  course,
  due,
  signs,
}: {
  course: Schemas["ChalkCourse"];
  due: Schemas["Due"];
  signs: { day: string; text: string }[];
}) {
  const id = useId();
  const narrow = useMediaQuery("(max-width: 700px)");
  const [width, height, left, right, top, bottom] = [narrow ? 420 : 980, narrow ? 300 : 330, 46, 14, 26, 66];
  const points = [...course.spans.flat(), ...course.fan];
  const [first, last] = [time(points[0]?.day ?? due.date), time(points.at(-1)?.day ?? due.date)];
  const tallest = Math.max(...points.map((p) => p.mg), course.limit_mg);
  const x = (day: string) => left + ((width - left - right) * (time(day) - first)) / Math.max(last - first, 1);
  const y = (mg: number) => height - bottom - (height - top - bottom) * Math.min(mg / (tallest * 1.3), 1);
  const line = (span: Point[]) => span.map((p, i) => `${i ? "L" : "M"}${x(p.day)} ${y(p.mg)}`).join("");
  const band = (span: Point[]) =>
    `M${[...span.map((p) => [p.day, p.high_mg] as const), ...[...span].reverse().map((p) => [p.day, p.low_mg] as const)]
      .map(([day, mg]) => `${x(day)} ${y(mg)}`)
      .join("L")}Z`;
  const now = course.fan[0];
  const base = height - bottom;
  const grams = (mg: number) => `${(mg / 1000).toFixed(2)} g`;
  const every = Math.ceil(course.months.length / (narrow ? 4 : 12));
  const inside = (day: string) => time(day) >= first && time(day) <= last;
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      width="100%"
      style={{ display: "block" }}
      role="img"
      aria-label={`Chalk over time: ${course.cleans.length} cleans, ${grams(now?.mg ?? 0)} today, limit ${grams(course.limit_mg)}, due ${due.text}`}
    >
      <defs>
        <pattern id={`${id}h`} width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(40)">
          <rect width="6" height="6" fill={ink.chalk} opacity="0.8" />
          <path d="M0 0v6" stroke={ink.chalkEdge} opacity="0.45" />
        </pattern>
      </defs>
      {course.months.map((month, i) => (
        <g key={month.day}>
          <path d={`M${x(month.day)} ${base}v5`} stroke="currentColor" />
          {i % every === 0 && (
            <text x={x(month.day)} y={base + 20} textAnchor="middle" fontSize="13" fill="currentColor">
              {month.label}
            </text>
          )}
        </g>
      ))}
      {course.spans.map((span) => (
        <path key={span[0]?.day} d={band(span)} fill={`url(#${id}h)`} />
      ))}
      <path d={band(course.fan)} fill={ink.water} opacity="0.2" />
      {course.spans.map((span) => (
        <path key={span[0]?.day} d={line(span)} fill="none" stroke={ink.chalkEdge} strokeWidth="2.5" />
      ))}
      <path d={line(course.fan)} fill="none" stroke={ink.water} strokeWidth="2.5" strokeDasharray="7 5" />
      <path d={`M${left} ${y(course.limit_mg)}H${width - right}`} stroke="currentColor" strokeDasharray="2 4" />
      <text x={left + 4} y={y(course.limit_mg) - 6} fontSize="13" fill="currentColor">
        limit {grams(course.limit_mg)}
      </text>
      <path d={`M${left} ${top}V${base}H${width - right}`} fill="none" stroke="currentColor" />
      <text x={left - 6} y={base + 4} fontSize="13" textAnchor="end" fill="currentColor">
        0
      </text>
      {course.cleans.filter(inside).map((day) => (
        <g key={day}>
          <path d={`M${x(day)} ${top + 14}V${base}`} stroke="currentColor" strokeWidth="1.5" />
          <circle cx={x(day)} cy={top + 8} r="6" fill="none" stroke="currentColor" strokeWidth="2" />
        </g>
      ))}
      {signs
        .filter((sign) => inside(sign.day))
        .map((sign) => (
          <path
            key={sign.text}
            d={`M${x(sign.day)} ${base - 16}l7 14h-14z`}
            fill={ink.bath}
            stroke="currentColor"
            strokeWidth="1.5"
          />
        ))}
      {now && (
        <g>
          <path d={`M${x(now.day)} ${top + 14}V${base}`} stroke={ink.water} strokeWidth="2" />
          <text
            x={Math.min(x(now.day), width - 44)}
            y={top + 6}
            fontSize="13"
            fontWeight="700"
            textAnchor="middle"
            fill="currentColor"
          >
            today
          </text>
        </g>
      )}
      {inside(due.latest) && (
        <g>
          <path
            d={`M${Math.max(x(due.earliest), left)} ${base + 28}v-6m0 3H${x(due.latest)}m0 -3v6`}
            fill="none"
            stroke="currentColor"
            strokeWidth="2"
          />
          <path d={`M${Math.max(x(due.date), left)} ${base + 25}m-6 -6l6 6l6 -6z`} fill="currentColor" />
          <text
            x={Math.min(Math.max((x(due.earliest) + x(due.latest)) / 2, left + 50), width - 60)}
            y={base + 46}
            textAnchor="middle"
            fontSize="13"
            fontWeight="700"
            fill="currentColor"
          >
            due window
          </text>
        </g>
      )}
      <g fontSize="13" fill="currentColor">
        <circle cx={left + 8} cy={height - 8} r="5" fill="none" stroke="currentColor" strokeWidth="2" />
        <text x={left + 20} y={height - 4}>
          a clean
        </text>
        <path d={`M${left + 92} ${height - 15}l6 12h-12z`} fill={ink.bath} stroke="currentColor" />
        <text x={left + 104} y={height - 4}>
          a sign you saw
        </text>
        <rect x={left + 212} y={height - 14} width="16" height="11" fill={`url(#${id}h)`} />
        <text x={left + 234} y={height - 4}>
          8 in 10 lie here
        </text>
      </g>
    </svg>
  );
}
