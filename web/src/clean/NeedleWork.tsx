import { Stack, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import type { Schemas } from "../api/client";
import { NeedlePlan } from "../pictures/NeedlePlan";

const tools: Record<Schemas["ClearingTool"], string> = {
  clip: "Paper clip",
  own: "Its own tool",
  brush: "Small brush",
  wood: "Wooden pick",
};

/** Clearing hole by hole: tap one when the tool comes out clean. */
export function NeedleWork({
  state,
  step,
  needles,
  act,
}: {
  state: Schemas["State"];
  step: string;
  needles: Schemas["Needle"][];
  act: (what: Schemas["Act"]) => void;
}) {
  const next = state.next?.act.kind === "cleared" ? state.next.act.spot : undefined;
  return (
    <Stack spacing={1.5}>
      <NeedlePlan
        needles={needles}
        clear={state.clear}
        next={next}
        onTap={(spot, clear) => act({ kind: "cleared", step, spot, clear })}
      />
      <Typography color="textSecondary">Tap a hole when the tool comes out clean; tap again if it is not.</Typography>
      <ToggleButtonGroup
        exclusive
        size="small"
        aria-label="Cleared with"
        value={state.tool ?? null}
        onChange={(_, tool: Schemas["ClearingTool"] | null) => tool && act({ kind: "tool", tool })}
      >
        {(Object.keys(tools) as Schemas["ClearingTool"][]).map((tool) => (
          <ToggleButton key={tool} value={tool} sx={{ minHeight: 48, color: "text.primary" }}>
            {tools[tool]}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      {state.tool_text && <Typography role="status">{state.tool_text}</Typography>}
    </Stack>
  );
}
