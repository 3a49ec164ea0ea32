import type { CSSProperties, ReactNode } from "react";
import type { Schemas } from "../api/client";
import { ink } from "../theme";

const text = { fontSize: 12, fill: "currentColor" } as const;
const edge = { fill: "none", stroke: "currentColor", strokeWidth: 2.5 } as const;

const families: Record<Schemas["Family"], { parts: string; Path: () => ReactNode; reservoir: boolean }> = {
  pod_reservoir: {
    parts: "reservoir, pump, hot tank, lid needle, pod chamber with cup needle, mug",
    Path: PodPath,
    reservoir: true,
  },
  one_cup_pod: {
    parts: "a cup of water poured in, pump, small tank, lid needles, pod chamber with cup needle, mug",
    Path: OneCupPath,
    reservoir: false,
  },
  coded_capsule: {
    parts: "reservoir, pump, heater block, capsule or service disc over the reader window, cup",
    Path: CodedPath,
    reservoir: true,
  },
  pump_capsule: {
    parts: "reservoir, pump, heater block, capsule between piercing points and plate, cup",
    Path: CapsulePath,
    reservoir: true,
  },
  drip: {
    parts: "reservoir, riser tube round the heater, spray head, basket, carafe on the plate",
    Path: DripPath,
    reservoir: true,
  },
  combination: {
    parts: "reservoir, riser to the basket and carafe, hot tank to the pod chamber and mug",
    Path: CombinationPath,
    reservoir: true,
  },
};

type Place = Schemas["Place"];
type Frame = readonly [x: number, y: number, width: number, height: number];

const reservoirs: Partial<Record<Place, Frame>> = { reservoir: [34, 40, 78, 141], filter: [53, 123, 40, 50] };
const pods: Partial<Record<Place, Frame>> = {
  lid_needle: [200, 63, 26, 26],
  pod_chamber: [188, 84, 50, 42],
  cup_needle: [203, 121, 20, 21],
  mug: [186, 155, 54, 53],
};

/** Where each place lies in the drawing of its family. */
const frames: Record<Schemas["Family"], Partial<Record<Place, Frame>>> = {
  pod_reservoir: { ...reservoirs, ...pods, tank: [129, 85, 56, 78] },
  one_cup_pod: { ...pods, reservoir: [38, 57, 68, 52], tank: [129, 99, 56, 54] },
  coded_capsule: {
    ...reservoirs,
    tank: [123, 95, 64, 62],
    lid_needle: [202, 73, 22, 22],
    pod_chamber: [183, 90, 78, 40],
    mug: [190, 157, 50, 50],
  },
  pump_capsule: { ...reservoirs, tank: [123, 95, 64, 62], pod_chamber: [190, 47, 66, 48], mug: [234, 157, 50, 50] },
  drip: { ...reservoirs, riser: [118, 183, 114, 20], basket: [155, 55, 64, 46], carafe: [145, 111, 92, 78] },
  combination: {
    ...reservoirs,
    riser: [103, 183, 54, 20],
    basket: [117, 57, 50, 38],
    carafe: [109, 105, 66, 76],
    tank: [171, 113, 44, 52],
    lid_needle: [227, 62, 20, 22],
    pod_chamber: [215, 80, 44, 37],
    mug: [215, 155, 46, 52],
  },
};

/** What is in the machine, in its colour and its word. */
const contents: Record<Schemas["Inside"], { ink: string; word: string }> = {
  water: { ink: ink.water, word: "water inside" },
  bath: { ink: ink.bath, word: "acid inside" },
  traces: { ink: ink.rinse, word: "traces of acid inside" },
};

/** Whatever is inside, drawn in its colour. */
const liquid = "var(--liquid)";

/** The brewer cut open, with the way of the water and the parts that matter named; `lit` is framed, `inside` coloured and said. */
export function Cutaway({
  family,
  filter,
  lit = [],
  inside,
}: {
  family: Schemas["Family"];
  filter: boolean;
  lit?: Place[];
  inside?: Schemas["Inside"];
}) {
  const { parts, Path, reservoir } = families[family];
  const known = lit.flatMap((place) => {
    const frame = place === "body" ? ([18, 20, 272, 190] as const) : frames[family][place];
    return frame ? [{ place, frame }] : [];
  });
  const here = known.length > 0 ? `. Here: ${known.map(({ place }) => place.replace("_", " ")).join(", ")}` : "";
  const content = contents[inside ?? "water"];
  return (
    <svg
      viewBox={`0 0 300 ${inside ? 250 : 230}`}
      width="100%"
      style={{ maxWidth: "min(330px, 72vw)", "--liquid": content.ink } as CSSProperties}
      role="img"
      aria-label={`Cut open: ${parts}${here}${inside ? `. ${content.word}` : ""}`}
    >
      {inside && (
        <g>
          <rect x="30" y="233" width="14" height="14" rx="3" fill={content.ink} stroke="currentColor" />
          <text x="52" y="245" {...text} fontSize={14} fontWeight="700">
            {content.word}
          </text>
        </g>
      )}
      {known.map(({ place, frame: [x, y, width, height] }) => (
        <rect
          key={place}
          x={x}
          y={y}
          width={width}
          height={height}
          rx="8"
          fill="var(--mui-palette-primary-main)"
          fillOpacity={place === "body" ? 0 : 0.14}
          stroke="var(--mui-palette-primary-main)"
          strokeWidth="4"
        />
      ))}
      <path d="M30 205H270" {...edge} />
      {reservoir && (
        <>
          <rect x="40" y="45" width="66" height="130" rx="6" {...edge} />
          <rect x="43" y="80" width="60" height="92" fill={liquid} opacity="0.45" />
          <text x="73" y="38" textAnchor="middle" {...text}>
            reservoir
          </text>
        </>
      )}
      {filter && reservoir && (
        <g>
          <rect x="58" y="128" width="30" height="40" rx="4" fill={ink.metal} stroke="currentColor" />
          <text x="73" y="122" textAnchor="middle" {...text}>
            filter
          </text>
        </g>
      )}
      <Path />
    </svg>
  );
}

/** One cup is poured in; the small tank empties with every brew. */
function OneCupPath() {
  return (
    <>
      <path d="M44 62h56l-8 42h-40z" {...edge} />
      <path d="M49 76h46l-5 25h-36z" fill={liquid} opacity="0.45" />
      <text x="72" y="54" textAnchor="middle" {...text}>
        one cup, poured in
      </text>
      <path d="M73 104v85h44" {...edge} stroke={liquid} />
      <circle cx="124" cy="189" r="9" {...edge} />
      <text x="124" y="222" textAnchor="middle" {...text}>
        pump
      </text>
      <path d="M133 189h24v-42" {...edge} stroke={liquid} />
      <rect x="134" y="104" width="46" height="44" rx="8" fill={ink.chalk} stroke={ink.chalkEdge} strokeWidth="4" />
      <text x="130" y="130" textAnchor="end" {...text}>
        small tank
      </text>
      <PodChamber from={104} />
    </>
  );
}

/** A disc with a code over the reader window takes the capsule's place for cleaning. */
function CodedPath() {
  return (
    <>
      <Pump />
      <path d="M133 189h22v-44h-14v-12h28v-12h-28v-12h14v-39h58v8" {...edge} stroke={liquid} />
      <rect x="128" y="100" width="54" height="52" rx="4" fill="none" stroke={ink.chalkEdge} strokeWidth="4" />
      <text x="168" y="172" {...text}>
        heater block
      </text>
      <path d="M208 78h10l-5 14z" fill={ink.metal} stroke="currentColor" strokeWidth="2" />
      <path d="M188 96h52q-4 30 -26 30t-26 -30z" fill={ink.chalk} stroke="currentColor" strokeWidth="2.5" />
      <rect x="244" y="92" width="12" height="8" fill={ink.metal} stroke="currentColor" />
      <text x="236" y="78" {...text}>
        reader
      </text>
      <text x="246" y="122" {...text}>
        capsule
      </text>
      <path d="M214 128v32" stroke={liquid} strokeWidth="3" strokeDasharray="4 3" />
      <path d="M196 162h38l-4 40h-30z" {...edge} />
      <text x="215" y="188" textAnchor="middle" {...text}>
        cup
      </text>
    </>
  );
}

/** Two heaters: the riser to the carafe, the tank to the pod. */
function CombinationPath() {
  return (
    <>
      <path d="M73 175v18h40" {...edge} stroke={liquid} />
      <path d="M108 193h44" stroke={ink.chalkEdge} strokeWidth="9" />
      <path d="M108 193h44" stroke={liquid} strokeWidth="4" />
      <path d="M152 193h8v-150h-18v14" {...edge} stroke={liquid} />
      <path d="M122 62h40l-7 28h-26z" {...edge} />
      <text x="142" y="80" textAnchor="middle" {...text}>
        basket
      </text>
      <path d="M142 91v16" stroke={liquid} strokeWidth="3" strokeDasharray="4 3" />
      <path d="M116 110h46l6 58q0 6 -6 6h-42q-6 0 -6 -6z" {...edge} />
      <text x="139" y="146" textAnchor="middle" {...text}>
        carafe
      </text>
      <text x="130" y="222" textAnchor="middle" {...text}>
        riser
      </text>
      <path d="M73 186h-20v14h140v-40" {...edge} stroke={liquid} opacity="0.6" />
      <rect x="176" y="118" width="34" height="42" rx="8" fill={ink.chalk} stroke={ink.chalkEdge} strokeWidth="4" />
      <text x="193" y="222" textAnchor="middle" {...text}>
        hot tank
      </text>
      <path d="M193 118v-62h44v10" {...edge} stroke={liquid} />
      <path d="M232 66h10l-5 16z" fill={ink.metal} stroke="currentColor" strokeWidth="2" />
      <path d="M220 84h34l-5 28h-24z" {...edge} />
      <text x="258" y="102" {...text}>
        pod
      </text>
      <path d="M237 114v44" stroke={liquid} strokeWidth="3" strokeDasharray="4 3" />
      <path d="M220 160h36l-4 42h-28z" {...edge} />
      <text x="238" y="186" textAnchor="middle" {...text}>
        mug
      </text>
    </>
  );
}

/** From the reservoir to the pump, as in every brewer that is pressed. */
function Pump() {
  return (
    <>
      <path d="M73 175v14h44" {...edge} stroke={liquid} />
      <circle cx="124" cy="189" r="9" {...edge} />
      <text x="124" y="222" textAnchor="middle" {...text}>
        pump
      </text>
    </>
  );
}

function PodPath() {
  return (
    <>
      <Pump />
      <path d="M133 189h24v-30" {...edge} stroke={liquid} />
      <rect x="134" y="90" width="46" height="68" rx="10" fill={ink.chalk} stroke={ink.chalkEdge} strokeWidth="4" />
      <rect x="140" y="97" width="34" height="54" rx="6" fill={liquid} opacity="0.7" />
      <text x="153" y="82" textAnchor="end" {...text}>
        hot tank
      </text>
      <PodChamber from={90} />
    </>
  );
}

/** From a tank whose top lies at `from`, through the lid needle and the pod into the mug. */
function PodChamber({ from }: { from: number }) {
  return (
    <>
      <path d={`M157 ${from}V58h56v10`} {...edge} stroke={liquid} />
      <path d="M207 68h12l-6 18z" fill={ink.metal} stroke="currentColor" strokeWidth="2" />
      <text x="226" y="70" {...text}>
        lid needle
      </text>
      <path d="M194 88h38l-5 34h-28z" {...edge} />
      <path d="M209 124h8l-4 14z" fill={ink.metal} stroke="currentColor" strokeWidth="2" />
      <text x="244" y="106" {...text}>
        pod
      </text>
      <text x="222" y="136" {...text}>
        cup needle
      </text>
      <path d="M213 140v20" stroke={liquid} strokeWidth="3" strokeDasharray="4 3" />
      <path d="M192 160h42l-4 42h-34z" {...edge} />
      <text x="213" y="186" textAnchor="middle" {...text}>
        mug
      </text>
    </>
  );
}

function CapsulePath() {
  return (
    <>
      <Pump />
      <path d="M133 189h22v-44h-14v-12h28v-12h-28v-12h14v-39h40" {...edge} stroke={liquid} />
      <rect x="128" y="100" width="54" height="52" rx="4" fill="none" stroke={ink.chalkEdge} strokeWidth="4" />
      <text x="162" y="170" {...text}>
        heater block
      </text>
      <path d="M195 62v16" stroke={ink.metal} strokeWidth="6" />
      <path d="M201 54h32l10 9v14l-10 9h-32z" fill={ink.chalk} stroke="currentColor" strokeWidth="2.5" />
      <path d="M250 50v40" stroke="currentColor" strokeWidth="4" strokeDasharray="3 3" />
      <text x="222" y="44" textAnchor="middle" {...text}>
        capsule
      </text>
      <path d="M258 70v88" stroke={liquid} strokeWidth="3" strokeDasharray="4 3" />
      <path d="M240 162h38l-4 40h-30z" {...edge} />
      <text x="259" y="188" textAnchor="middle" {...text}>
        cup
      </text>
    </>
  );
}

function DripPath() {
  return (
    <>
      <path d="M73 175v18h50" {...edge} stroke={liquid} />
      <path d="M123 193h104" stroke={ink.chalkEdge} strokeWidth="9" />
      <path d="M123 193h104" stroke={liquid} strokeWidth="4" />
      <text x="175" y="222" textAnchor="middle" {...text}>
        heater under the plate
      </text>
      <path d="M227 193h24v-160h-64v14" {...edge} stroke={liquid} />
      <text x="256" y="120" {...text}>
        riser
      </text>
      <path d="M172 48h30" {...edge} strokeWidth="5" />
      <text x="120" y="40" {...text}>
        spray head
      </text>
      <path d="M160 60h54l-10 36h-34z" {...edge} />
      <text x="187" y="80" textAnchor="middle" {...text}>
        basket
      </text>
      <path d="M187 97v16" stroke={liquid} strokeWidth="3" strokeDasharray="4 3" />
      <path d="M152 116h70l8 62q0 6 -6 6h-74q-6 0 -6 -6z" {...edge} />
      <text x="187" y="156" textAnchor="middle" {...text}>
        carafe
      </text>
    </>
  );
}
