import type { ReactNode } from "react";
import { ink } from "../theme";

const line = {
  fill: "none",
  stroke: "currentColor",
  strokeWidth: 3,
  strokeLinecap: "round",
  strokeLinejoin: "round",
} as const;
const cross = <path d="M38 8l12 12M50 8L38 20" stroke="var(--mui-palette-error-main)" strokeWidth="4" fill="none" />;

/** What happened, drawn: the thing, and where it should not be or no longer is. */
const signs: Record<string, ReactNode> = {
  "pod-left-in": (
    <>
      <path d="M10 20h26l-4 28H14z" {...line} />
      <path d="M16 26h14l-2 14H18z" fill={ink.chalkEdge} />
      {cross}
    </>
  ),
  "filter-left-in": (
    <>
      <path d="M8 12v36h30V12" {...line} />
      <rect x="17" y="24" width="12" height="20" rx="3" fill={ink.metal} />
      {cross}
    </>
  ),
  "soak-forgotten": (
    <>
      <circle cx="24" cy="32" r="17" {...line} />
      <path d="M24 22v10l8 5M18 10h12" {...line} />
      {cross}
    </>
  ),
  "mode-left-early": (
    <>
      <rect x="8" y="16" width="30" height="30" rx="6" {...line} />
      <path d="M38 31h14m-6-6l6 6-6 6" {...line} />
    </>
  ),
  "reservoir-not-washed": (
    <>
      <path d="M8 14v34h30V14" {...line} />
      <path d="M11 34q7-5 12 0t12 0v12H11z" fill={ink.bath} />
    </>
  ),
  "carafe-pulled": (
    <>
      <path d="M24 8v10" stroke={ink.water} strokeWidth="5" strokeLinecap="round" />
      <path d="M20 24v6M28 26v8M24 34v10" stroke={ink.water} strokeWidth="4" strokeLinecap="round" />
      <path d="M34 22h18l2 24H34z" {...line} />
    </>
  ),
  "count-lost": (
    <>
      <path d="M10 14v30M19 14v30M28 14v30" {...line} />
      <path d="M40 20q0-8 7-8t7 7q0 5-7 8v6m0 8v1" {...line} />
    </>
  ),
  "power-cut": (
    <>
      <path d="M30 6L14 32h12l-4 20 18-28H28z" {...line} />
      {cross}
    </>
  ),
  "called-away": (
    <>
      <path d="M8 50V12h24v38M8 50h24" {...line} />
      <path d="M38 31h16m-6-6l6 6-6 6" {...line} />
    </>
  ),
};

export function MishapSign({ id }: { id: string }) {
  return (
    <svg viewBox="0 0 60 60" width="52" height="52" aria-hidden style={{ flexShrink: 0 }}>
      {signs[id] ?? <path d="M30 12v24m0 10v2" {...line} strokeWidth="5" />}
    </svg>
  );
}
