import { mdiAirFilter, mdiCoffeeMakerOutline, mdiNail } from "@mdi/js";
import { Stack, SvgIcon, Typography } from "@mui/material";
import type { Schemas } from "../api/client";

const icons: Partial<Record<Schemas["Job"], string>> = { filter: mdiAirFilter, needles: mdiNail };

/** The small jobs of a brewer, one line each; what is due is bold. */
export function Upkeep({ jobs }: { jobs: Schemas["Upkeep"][] }) {
  return jobs.map((job) => (
    <Stack key={job.job} direction="row" sx={{ gap: 1, alignItems: "center" }}>
      <SvgIcon fontSize="small" color={job.is_due ? "warning" : "inherit"}>
        <path d={icons[job.job] ?? mdiCoffeeMakerOutline} />
      </SvgIcon>
      <Typography variant="body2" sx={{ fontWeight: job.is_due ? 700 : 400 }}>
        {job.text}
        {job.is_due && " – time to do it"}
      </Typography>
    </Stack>
  ));
}
