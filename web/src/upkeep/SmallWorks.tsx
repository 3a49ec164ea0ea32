import { mdiAirFilter, mdiCoffeeMakerOutline, mdiNail, mdiTrayFull } from "@mdi/js";
import { Box, Button, Paper, Stack, SvgIcon, Typography } from "@mui/material";
import { useState } from "react";
import { type Schemas, send, useChange } from "../api/client";
import { ErrorNotice } from "../ui/Notices";
import { Stepper } from "../ui/Stepper";
import { WorkActs } from "./WorkActs";

const icons: Partial<Record<Schemas["Job"], string>> = {
  filter: mdiAirFilter,
  needles: mdiNail,
  tray: mdiTrayFull,
};

/** Every small work of a brewer: how it stands, how often it is wanted, and the ways to do it. */
export function SmallWorks({ id, works, today }: { id: string; works: Schemas["Upkeep"][]; today: string }) {
  const [all, setAll] = useState(false);
  const shown = works.filter((work) => all || work.is_due || work.is_usual);
  return (
    <Paper component="section" aria-label="Small works" sx={{ p: 2 }}>
      <Typography variant="h3" component="h2">
        Small works
      </Typography>
      <Box component="ul" sx={{ listStyle: "none", p: 0, m: 0 }}>
        {shown.map((work) => (
          <Work key={work.job} id={id} work={work} today={today} />
        ))}
      </Box>
      {(all || shown.length < works.length) && (
        <Button onClick={() => setAll(!all)}>
          {all ? "Show the usual ones" : `Show ${works.length - shown.length} more, for when they are wanted`}
        </Button>
      )}
    </Paper>
  );
}

function Work({ id, work, today }: { id: string; work: Schemas["Upkeep"]; today: string }) {
  const [often, setOften] = useState(false);
  return (
    <Box component="li" sx={{ borderTop: 1, borderColor: "divider", py: 1 }}>
      <Stack direction="row" sx={{ gap: 1, alignItems: "center", flexWrap: "wrap" }}>
        <SvgIcon fontSize="small" color={work.is_due ? "warning" : "inherit"} aria-hidden>
          <path d={icons[work.job] ?? mdiCoffeeMakerOutline} />
        </SvgIcon>
        <Box sx={{ flex: "1 1 240px", minWidth: 0 }}>
          <Typography component="span" sx={{ fontWeight: 700 }}>
            {work.name}
            {work.is_due && " – time to do it"}
          </Typography>
          <Typography variant="body2" color="textSecondary">
            {work.text} ·{" "}
            <Button
              size="small"
              aria-expanded={often}
              sx={{ px: 0.5, py: 0, minWidth: 0, minHeight: 28 }}
              onClick={() => setOften(!often)}
            >
              {work.every}
            </Button>
          </Typography>
        </Box>
        <Stack direction="row" sx={{ gap: 1, ml: "auto", flexWrap: "wrap" }}>
          <WorkActs brewer={id} work={work} today={today} />
        </Stack>
      </Stack>
      {often && <HowOften id={id} work={work} onClose={() => setOften(false)} />}
    </Box>
  );
}

/** How often a work is wanted on this brewer. */
function HowOften({ id, work, onClose }: { id: string; work: Schemas["Upkeep"]; onClose: () => void }) {
  const [days, setDays] = useState(work.days ?? 30);
  const keep = useChange((cadence: Schemas["Cadence"]) => send.cadence(id, cadence));
  const put = (cadence: Partial<Schemas["Cadence"]>) =>
    keep.mutate({ job: work.job, days: null, brews: null, off: false, ...cadence }, { onSuccess: onClose });
  return (
    <Stack spacing={1} sx={{ py: 1 }}>
      <Stack direction="row" sx={{ gap: 1, alignItems: "center", flexWrap: "wrap" }}>
        <Typography>Every so many days:</Typography>
        <Stepper label={`${work.name}, days`} value={days} least={1} most={1000} onStep={setDays} />
        <Button variant="contained" disabled={keep.isPending} onClick={() => put({ days })}>
          Ask for it so
        </Button>
        <Button disabled={keep.isPending} onClick={() => put({})}>
          As usual
        </Button>
        <Button disabled={keep.isPending} onClick={() => put({ off: true })}>
          Never ask
        </Button>
      </Stack>
      <ErrorNotice error={keep.error} />
    </Stack>
  );
}
