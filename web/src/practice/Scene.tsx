import type { Schemas } from "../api/client";

type Scene = Schemas["Scene"];

const edge = { fill: "none", stroke: "currentColor", strokeWidth: 3 } as const;
const water = "var(--mui-palette-primary-main)";
const acid = "var(--mui-palette-warning-main)";
const label = { fontSize: 13, fill: "currentColor" } as const;

/** The practice brewer: what is in it, and what the last press would have done. */
export function SceneView({ scene, family }: { scene: Scene; family: string }) {
  const harm = scene.harm?.harm;
  const overflows = harm === "vessel_overflows";
  const level = (filled: Schemas["Filled"], top: number, height: number) => ({
    y: top + height * (1 - filled.share),
    height: height * filled.share,
    fill: filled.acid ? acid : water,
    fillOpacity: filled.acid ? 0.55 : 0.3,
  });
  return (
    <svg
      viewBox="0 0 460 330"
      width="100%"
      role="img"
      aria-label={`${family}. ${scene.words.join(" ")}`}
      style={{ maxHeight: 420 }}
    >
      {/* Plug and cord. */}
      <path d={scene.plugged ? "M20 292 H70" : "M20 316 q24 -6 40 -10"} {...edge} />
      <rect x="6" y={scene.plugged ? 282 : 306} width="16" height="20" rx="3" {...edge} />
      <text x="6" y="276" {...label}>
        {scene.plugged ? "plugged in" : "unplugged"}
      </text>
      {/* Body. */}
      <path d="M70 40 H250 V120 H210 V300 H70 Z" {...edge} strokeOpacity={scene.plugged ? 1 : 0.5} />
      {/* Reservoir. */}
      <rect x="84" y="60" width="64" height="150" {...edge} />
      <rect x="86" width="60" {...level(scene.reservoir, 62, 146)} />
      <text x="84" y="54" {...label}>
        reservoir
      </text>
      {/* Path with its chalk: the pale lining narrows it. */}
      <path d="M116 210 V258 H180 V100 H262" fill="none" stroke="currentColor" strokeWidth="24" strokeOpacity="0.15" />
      <path
        d="M116 210 V258 H180 V100 H262"
        fill="none"
        stroke="currentColor"
        strokeWidth={4 + 12 * scene.chalk}
        strokeOpacity="0.28"
        strokeDasharray="3 3"
      />
      <path
        d="M116 210 V258 H180 V100 H262"
        fill="none"
        stroke={scene.path_acid > 0.001 ? acid : water}
        strokeWidth={18 - 12 * scene.chalk}
        strokeOpacity={0.35 + 0.5 * scene.path_acid}
      />
      {/* Lid, chamber and needle. */}
      <path d={scene.lid_open ? "M252 82 L330 20" : "M252 82 H340"} {...edge} strokeWidth="6" />
      <path d="M262 96 H330 V150 H310 L296 166 L282 150 H262 Z" {...edge} />
      {scene.inside.map((thing, i) => (
        <text key={thing} x="344" y={104 + 18 * i} {...label}>
          {thing}
        </text>
      ))}
      {scene.hot && <path d="M276 140 q6 -8 0 -16 M296 140 q6 -8 0 -16 M316 140 q6 -8 0 -16" {...edge} stroke={acid} />}
      {/* Vessel. */}
      <path d="M252 216 H340 L332 292 H260 Z" {...edge} />
      <clipPath id="vessel">
        <path d="M254 218 H338 L331 290 H261 Z" />
      </clipPath>
      <rect x="250" width="92" clipPath="url(#vessel)" {...level(scene.vessel, 218, 72)} />
      {overflows && <path d="M250 212 q-14 40 -8 86 M342 212 q14 40 8 86" {...edge} stroke={acid} strokeWidth="7" />}
      <text x="252" y="312" {...label}>
        vessel
      </text>
      {/* Switch, mode and light, each told by its shape. */}
      <rect x="88" y="270" width="34" height="18" rx="3" {...edge} />
      {scene.on && <rect x="104" y="272" width="16" height="14" fill="currentColor" />}
      <text x="128" y="284" {...label}>
        {scene.on ? "on" : "off"}
      </text>
      {scene.in_mode && (
        <text x="352" y="60" {...label} fontWeight="700">
          cleaning mode
        </text>
      )}
      {scene.light && (
        <g>
          <path d="M222 56 l9 16 h-18 Z" fill={acid} stroke={acid} />
          <text x="196" y="36" {...label}>
            asks for descaling
          </text>
        </g>
      )}
      {scene.noted && (
        <g>
          <rect x="352" y="250" width="98" height="42" {...edge} />
          <text x="360" y="268" {...label} fontWeight="700">
            do not
          </text>
          <text x="360" y="284" {...label} fontWeight="700">
            brew
          </text>
        </g>
      )}
    </svg>
  );
}
