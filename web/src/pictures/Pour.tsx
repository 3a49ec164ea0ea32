import type { Schemas } from "../api/client";
import { ink } from "../theme";

/** The vessel with its marks: agent and water layered to them. */
export function Pour({ bath }: { bath: Schemas["Mixed"] }) {
  const height = 190;
  const share = (ml: number) => (ml / bath.total.ml) * height;
  const agent = bath.agent ? share(bath.agent.ml) : Math.max(10, height * 0.06);
  const marks = Math.round(bath.total.ml / bath.mark_ml);
  const every = Math.ceil(marks / 16);
  const water = bath.water.ml >= 1 ? ` and ${bath.water.text} of water` : "";
  const words = `${bath.agent_text} of ${bath.agent_name}${water}, ${bath.total.text} in all`;
  return (
    <svg viewBox="0 0 330 230" width="100%" style={{ maxWidth: "min(360px, 68vw)" }} role="img" aria-label={words}>
      <g transform="translate(14 14)">
        <rect x="0" y="0" width="120" height={height} fill={ink.water} opacity="0.45" />
        <rect x="0" y={height - agent} width="120" height={agent} fill={ink.bath} />
        <path
          d={`M0 -6 V${height} H120 V-6`}
          fill="none"
          stroke="currentColor"
          strokeWidth="4"
          strokeLinejoin="round"
        />
        {Array.from({ length: marks }, (_, i) => i + 1)
          .filter((mark) => mark % every === 0)
          .map((mark) => (
            <path
              key={mark}
              d={`M0 ${height - share(mark * bath.mark_ml)} h${mark % 4 === 0 ? 18 : 10}`}
              stroke="currentColor"
              strokeWidth="2"
            />
          ))}
        <g fill="currentColor" fontSize="15">
          {bath.water.ml >= 1 && (
            <>
              <text x="132" y={(height - agent) / 2 + 5} fontWeight="700">
                {bath.water.text}
              </text>
              <text x="132" y={(height - agent) / 2 + 23}>
                water
              </text>
            </>
          )}
          <text x="132" y={height - agent / 2 - 3} fontWeight="700">
            {bath.powder_g ? `${bath.powder_g} g` : bath.agent_text}
          </text>
          <text x="132" y={height - agent / 2 + 15}>
            {bath.agent_name.length > 22 ? `${bath.agent_name.slice(0, 21)}…` : bath.agent_name}
          </text>
        </g>
      </g>
    </svg>
  );
}
