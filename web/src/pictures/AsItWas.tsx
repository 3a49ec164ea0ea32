import type { Schemas } from "../api/client";

/** A clean's minutes as they were: each piece of work as long as it took, then open what its baths soaked. The words beside it say them. */
export function AsItWas({ outcome }: { outcome: Schemas["Outcome"] }) {
  const took = (outcome.took ?? []).filter((one) => one.took_min >= 0.3);
  const soaked = (outcome.poured ?? []).reduce((sum, bath) => sum + (bath.soaked_min ?? 0), 0);
  const all = took.reduce((sum, one) => sum + one.took_min, 0) + soaked;
  if (took.length < 2 || all <= 0) return null;
  let at = 0;
  const pieces = took.map((one, n) => {
    const from = at;
    at += one.took_min;
    return { key: `${one.kind}${n}`, from, minutes: one.took_min };
  });
  const scale = 1000 / all;
  return (
    <svg viewBox="0 0 1000 22" width="100%" height="14" preserveAspectRatio="none" aria-hidden>
      {pieces.map(({ key, from, minutes }) => (
        <rect
          key={key}
          x={from * scale}
          y="2"
          width={Math.max(3, minutes * scale - 4)}
          height="18"
          fill="var(--mui-palette-primary-main)"
        />
      ))}
      {soaked > 0 && (
        <path
          d={`M${(all - soaked) * scale + 2} 4 H998 M${(all - soaked) * scale + 2} 18 H998`}
          stroke="currentColor"
          strokeWidth="2"
          strokeDasharray="8 6"
        />
      )}
    </svg>
  );
}
