/** A phone's screen with lines of its settings, of which one is touched, or switched on. */
export function PhoneScreen({ rows, touch, turns }: { rows: string[]; touch: number; turns: boolean }) {
  return (
    <svg viewBox="0 0 96 92" width="100%" aria-hidden="true">
      <rect x="3" y="3" width="90" height="86" rx="11" fill="none" stroke="currentColor" strokeWidth="3" />
      {rows.map((row, n) => {
        const y = 14 + 24 * n;
        const isTouched = n === touch;
        return (
          <g key={row}>
            <rect
              x="9"
              y={y}
              width="78"
              height="19"
              rx="5"
              fill={isTouched ? "var(--mui-palette-primary-main)" : "none"}
              stroke="currentColor"
              strokeOpacity={isTouched ? 0 : 0.35}
            />
            <text
              x="14"
              y={y + 12.5}
              fontSize="8"
              fill={isTouched ? "var(--mui-palette-primary-contrastText)" : "currentColor"}
              textLength={row.length > 15 ? (isTouched && turns ? 48 : 68) : undefined}
              lengthAdjust="spacingAndGlyphs"
            >
              {row}
            </text>
            {isTouched && turns && (
              <g>
                <rect x="66" y={y + 4.5} width="17" height="10" rx="5" fill="var(--mui-palette-primary-contrastText)" />
                <circle cx="78" cy={y + 9.5} r="3.6" fill="var(--mui-palette-primary-main)" />
              </g>
            )}
          </g>
        );
      })}
    </svg>
  );
}
