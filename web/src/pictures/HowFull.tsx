import { ink } from "../theme";

/** A reservoir with the bath as high as it stands. */
export function HowFull({ share }: { share: number }) {
  const top = 8 + 74 * (1 - share);
  return (
    <svg viewBox="0 0 100 92" width="100%" aria-hidden="true">
      <rect x="18" y={top} width="64" height={82 - top} fill={ink.bath} />
      {share > 0 && <path d={`M18 ${top} h64`} stroke="currentColor" strokeWidth="2" />}
      <path d="M18 4 V82 H82 V4" fill="none" stroke="currentColor" strokeWidth="4" strokeLinejoin="round" />
    </svg>
  );
}
