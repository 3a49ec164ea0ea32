import { Box, Stack, Typography } from "@mui/material";
import type { KeyboardEvent, ReactNode } from "react";
import type { Schemas } from "../api/client";
import { ink } from "../theme";

type Needle = Schemas["Needle"];
type Spot = Schemas["Spot"];

const plate = 128;
const seats = { entrance: "Lid (entrance), from below", exit: "Cup side (exit), from below" } as const;

/** Where something lies that faces `degrees` clockwise from the front; the front is at the bottom. */
const around = (degrees: number, radius: number): [number, number] => {
  const angle = (degrees * Math.PI) / 180;
  return [-radius * Math.sin(angle), radius * Math.cos(angle)];
};

const same = (a: Spot, b: Spot) => a.needle === b.needle && (a.hole ?? null) === (b.hole ?? null);

/** Each needle from below with its holes at their angles; a tapped hole is clear, and a clip points at the next one. */
export function NeedlePlan({
  needles,
  clear,
  next,
  onTap,
}: {
  needles: Needle[];
  clear: Spot[];
  next?: Spot | undefined;
  onTap?: ((spot: Spot, isClear: boolean) => void) | undefined;
}) {
  const shown = (["entrance", "exit"] as const).filter((seat) => needles.some((n) => n.seat === seat));
  return (
    <Stack spacing={1}>
      <Box
        sx={{
          display: "grid",
          gap: 1,
          // One below the other on a phone: a hole is then as large as a thumb.
          gridTemplateColumns: { xs: "minmax(0, 1fr)", sm: `repeat(${shown.length}, minmax(0, 320px))` },
          maxWidth: 660,
        }}
      >
        {shown.map((seat) => (
          <Box key={seat}>
            {/* biome-ignore lint/a11y/useSemanticElements: a drawing cannot be a fieldset */}
            <svg
              viewBox="-150 -140 300 310"
              width="100%"
              role="group"
              aria-label={`${seats[seat]}: ${needles
                .filter((n) => n.seat === seat)
                .map((n) => n.name)
                .join(", ")}`}
            >
              <circle r={plate} fill={ink.metal} opacity="0.16" />
              <circle r={plate} fill="none" stroke="currentColor" strokeWidth="2" />
              <path d="M-14 128 L0 142 L14 128" fill="none" stroke="currentColor" strokeWidth="2" />
              <text y="163" textAnchor="middle" fontSize="17" fill="currentColor">
                front
              </text>
              {needles
                .filter((n) => n.seat === seat)
                .map((needle) => (
                  <OneNeedle key={needle.id} needle={needle} clear={clear} next={next} onTap={onTap} />
                ))}
            </svg>
            <Typography variant="body2" sx={{ textAlign: "center" }}>
              {seats[seat]}
            </Typography>
          </Box>
        ))}
      </Box>
      <DepthLimit />
    </Stack>
  );
}

/** How the needles of a lid look from below, only to tell them apart. */
export function LidLook({ needles }: { needles: Needle[] }) {
  return (
    <svg viewBox="-140 -140 280 280" width="64" aria-hidden>
      <circle r={plate} fill={ink.metal} opacity="0.16" />
      <circle r={plate} fill="none" stroke="currentColor" strokeWidth="5" />
      {needles
        .filter((n) => n.seat === "entrance")
        .map((needle) => {
          const small = needle.at_deg != null;
          const [x, y] = small ? around(needle.at_deg ?? 0, 88) : [0, 0];
          const body = small ? 18 : 46;
          return (
            <g key={needle.id} transform={`translate(${x} ${y})`}>
              <circle r={body} fill={ink.metal} stroke="currentColor" strokeWidth="4" />
              {needle.holes_deg.map((degrees) => {
                const [hx, hy] = around(degrees, body);
                return <circle key={degrees} cx={hx} cy={hy} r={small ? 8 : 14} fill="currentColor" />;
              })}
            </g>
          );
        })}
    </svg>
  );
}

function OneNeedle({
  needle,
  clear,
  next,
  onTap,
}: {
  needle: Needle;
  clear: Spot[];
  next: Spot | undefined;
  onTap: ((spot: Spot, isClear: boolean) => void) | undefined;
}) {
  const small = needle.at_deg != null;
  const [x, y] = small ? around(needle.at_deg ?? 0, 92) : [0, 0];
  const body = small ? 15 : 30;
  const reach = small ? 24 : 56;
  const spots: [Spot, [number, number], string][] = needle.holes_deg.map((degrees, hole) => [
    { needle: needle.id, hole },
    around(degrees, reach),
    `hole ${hole + 1} of ${needle.holes_deg.length}`,
  ]);
  if (needle.opening) spots.push([{ needle: needle.id, hole: null }, [0, -98], "opening below its seat"]);
  return (
    <g transform={`translate(${x} ${y})`}>
      {needle.opening && <ellipse cy="-98" rx="46" ry="24" fill="none" stroke="currentColor" strokeDasharray="5 4" />}
      <circle r={body} fill={ink.metal} stroke="currentColor" strokeWidth="2.5" />
      <circle r={body * 0.25} fill="currentColor" />
      {spots.map(([spot, [hx, hy], place], i) => {
        const isClear = clear.some((c) => same(c, spot));
        const words = `${needle.name}, ${place}: ${isClear ? "clear" : "not cleared"}`;
        const tap = onTap && (() => onTap(spot, !isClear));
        const isNext = next !== undefined && same(next, spot);
        return (
          <g key={place}>
            {spot.hole != null && (
              <path d={`M0 0 L${hx} ${hy}`} stroke="currentColor" strokeWidth={small ? 3 : 6} opacity="0.35" />
            )}
            {isNext && <Clip x={hx} y={hy} up={spot.hole == null} />}
            <Tappable x={hx} y={hy} words={words} pressed={isClear} onTap={tap}>
              <circle r={27} fill="transparent" />
              <circle
                r={small ? 15 : 20}
                fill={isClear ? ink.water : "var(--mui-palette-background-paper)"}
                stroke="currentColor"
                strokeWidth={isNext ? 4 : 2}
                strokeDasharray={isClear || isNext ? undefined : "4 3"}
              />
              {isClear ? (
                <path d="M-7 0 L-2 6 L8 -6" fill="none" stroke="#10182b" strokeWidth="3.5" strokeLinecap="round" />
              ) : (
                <text textAnchor="middle" y="6" fontSize="18" fill="currentColor">
                  {spot.hole == null ? "○" : i + 1}
                </text>
              )}
            </Tappable>
          </g>
        );
      })}
    </g>
  );
}

/** A place in the picture that can be tapped, or only looked at. */
function Tappable({
  x,
  y,
  words,
  pressed,
  onTap,
  children,
}: {
  x: number;
  y: number;
  words: string;
  pressed: boolean;
  onTap: (() => void) | undefined;
  children: ReactNode;
}) {
  const at = `translate(${x} ${y})`;
  if (!onTap) return <g transform={at}>{children}</g>;
  const onKey = (event: KeyboardEvent) => {
    if (event.key !== "Enter" && event.key !== " ") return;
    event.preventDefault();
    event.stopPropagation();
    onTap();
  };
  return (
    // biome-ignore lint/a11y/useSemanticElements: a button element cannot stand inside a drawing
    <g
      transform={at}
      role="button"
      tabIndex={0}
      aria-pressed={pressed}
      aria-label={words}
      style={{ cursor: "pointer" }}
      onClick={onTap}
      onKeyDown={onKey}
    >
      {children}
    </g>
  );
}

/** The bent clip, coming in from outside along the way the hole faces. */
function Clip({ x, y, up }: { x: number; y: number; up: boolean }) {
  const length = Math.hypot(x, y) || 1;
  const [ux, uy] = [x / length, y / length];
  const far = up ? 40 : 62;
  return (
    <path
      d={`M${x + ux * 18} ${y + uy * 18} L${x + ux * far} ${y + uy * far} q${ux * 14 + uy * 10} ${uy * 14 - ux * 10} ${uy * 22} ${-ux * 22}`}
      fill="none"
      stroke="var(--mui-palette-primary-main)"
      strokeWidth="4"
      strokeLinecap="round"
      aria-hidden
    />
  );
}

/** A needle from the side: the clip enters at the hole and stops at the line. */
function DepthLimit() {
  return (
    <svg
      viewBox="0 0 400 84"
      width="100%"
      style={{ maxWidth: 460 }}
      role="img"
      aria-label="The clip goes in at the hole and stops at the line: a soft tube lies behind it"
    >
      <path d="M20 30 h92 v24 h-92z" fill={ink.chalk} opacity="0.6" stroke="currentColor" strokeDasharray="3 3" />
      <text x="66" y="47" textAnchor="middle" fontSize="13" fill="#16244a">
        soft tube
      </text>
      <path
        d="M112 22 h90 l60 20 l-60 20 h-90z"
        fill={ink.metal}
        opacity="0.75"
        stroke="currentColor"
        strokeWidth="2"
      />
      <circle cx="196" cy="34" r="6" fill="var(--mui-palette-background-paper)" stroke="currentColor" strokeWidth="2" />
      <path d="M150 10 V74" stroke="var(--mui-palette-warning-main)" strokeWidth="3" strokeDasharray="7 4" />
      <text x="144" y="14" textAnchor="end" fontSize="13" fill="currentColor">
        stop here
      </text>
      <path
        d="M158 42 L196 34 L232 6"
        fill="none"
        stroke="var(--mui-palette-primary-main)"
        strokeWidth="4"
        strokeLinecap="round"
      />
      <text x="240" y="14" fontSize="13" fill="currentColor">
        clip, bent, at an angle
      </text>
    </svg>
  );
}
