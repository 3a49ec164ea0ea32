import {
  mdiAlertOutline,
  mdiBottleTonicSkullOutline,
  mdiEyeOutline,
  mdiFire,
  mdiGlassFragile,
  mdiNail,
  mdiPowerPlugOff,
} from "@mdi/js";
import { Stack, SvgIcon, Typography } from "@mui/material";
import type { Schemas } from "../api/client";

const hazards: Record<Schemas["Hazard"], string> = {
  unplug: mdiPowerPlugOff,
  hot: mdiFire,
  sharp: mdiNail,
  acid: mdiEyeOutline,
  never_mix: mdiBottleTonicSkullOutline,
  glass: mdiGlassFragile,
  manual: mdiAlertOutline,
};

/** What to mind at a step, each with its icon. */
export function Cautions({ cautions }: { cautions: Schemas["Caution"][] }) {
  return cautions.map((caution) => (
    <Stack key={caution.text} direction="row" spacing={1.5} sx={{ alignItems: "flex-start" }}>
      <SvgIcon color="warning" aria-hidden>
        <path d={hazards[caution.hazard]} />
      </SvgIcon>
      <Typography>{caution.text}</Typography>
    </Stack>
  ));
}
