import type { Schemas } from "../api/client";

/** A time ribbon as one line on a scale it shares with others: solid is hands, ticked is near, open is free. */
export function RibbonLine({ ribbon, longest }: { ribbon: Schemas["Ribbon"]; longest: number }) {
  const scale = 1000 / longest;
  const main = "var(--mui-palette-primary-main)";
  return (
    <svg viewBox="0 0 1000 24" width="100%" height="24" preserveAspectRatio="none" aria-hidden>
      {ribbon.stretches
        .filter((s) => !s.during)
        .map((s) => {
          const x = s.start_min * scale;
          const width = Math.max(2, s.minutes * scale - 2);
          if (s.hands_on) return <rect key={`${s.step}h`} x={x} y="2" width={width} height="20" fill={main} />;
          if (s.near) {
            const ticks = Array.from({ length: Math.max(1, Math.floor(width / 12)) }, (_, i) => x + 6 + i * 12);
            return (
              <g key={`${s.step}n`} stroke={main} strokeWidth="3" fill="none">
                <rect x={x} y="3" width={width} height="18" strokeWidth="2" />
                <path d={ticks.map((at) => `M${at} 6 V18`).join(" ")} strokeWidth="4" />
              </g>
            );
          }
          return (
            <path
              key={`${s.step}f`}
              d={`M${x} 4 h${width} M${x} 20 h${width}`}
              stroke="currentColor"
              strokeWidth="2"
              strokeDasharray="6 5"
            />
          );
        })}
    </svg>
  );
}
