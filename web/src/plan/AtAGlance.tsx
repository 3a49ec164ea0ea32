import { Box, Paper, Stack, Typography } from "@mui/material";
import type { Schemas } from "../api/client";
import { Bore } from "../pictures/Bore";
import { Pour } from "../pictures/Pour";
import { TimeRibbon } from "../pictures/TimeRibbon";

/** The recommended clean in one look: what is poured, how long it takes, chalk before and after, and why. */
export function AtAGlance({ plan }: { plan: Schemas["Plan"] }) {
  const whole = plan.work === "descale";
  return (
    <Paper component="section" aria-label="The clean at a glance" sx={{ p: 2 }}>
      <Typography variant="h2" component="p" sx={{ mb: 1 }}>
        {whole && (plan.chosen.baths ?? 1) > 1 && `${plan.chosen.baths} fresh baths, each `}
        {whole
          ? poured(plan.bath)
          : plan.work === "needles"
            ? "Clear and flush the needles"
            : "With plain water, to learn the buttons"}
        : {plan.ribbon.text}.
      </Typography>
      <Stack direction="row" sx={{ columnGap: { xs: 1, sm: 3 }, rowGap: 2, alignItems: "center", flexWrap: "wrap" }}>
        {whole && (
          <Box sx={{ width: 230, maxWidth: "100%", flexShrink: 0 }}>
            <Pour bath={plan.bath} />
          </Box>
        )}
        {whole && plan.after && (
          <Stack
            direction={{ xs: "column", sm: "row" }}
            component="figure"
            sx={{ m: 0, gap: { xs: 0.5, sm: 2 }, alignItems: "center" }}
          >
            {[
              { title: "Now", chalk: plan.chalk },
              { title: "After it", chalk: plan.after },
            ].map(({ title, chalk }) => (
              <Stack key={title} sx={{ alignItems: "center" }}>
                <Typography>{title}</Typography>
                <Bore chalk={chalk} size={84} />
              </Stack>
            ))}
          </Stack>
        )}
        <Box sx={{ flex: "1 1 320px", minWidth: 0 }}>
          <TimeRibbon ribbon={plan.ribbon} />
        </Box>
      </Stack>
      {whole && (plan.likely_baths ?? 1) > (plan.chosen.baths ?? 1) && (
        <Typography sx={{ mt: 1 }}>
          After each bath you look at what it brought; Murlo plans the next one only if it is needed.
        </Typography>
      )}
      {plan.reasons[0] && <Typography sx={{ mt: 1 }}>{plan.reasons[0]}</Typography>}
    </Paper>
  );
}

/** A powder goes into an amount of water; a liquid is thinned, or taken neat. */
function poured({ agent_words, powder_g, water }: Schemas["Mixed"]): string {
  if (powder_g != null) {
    return `${agent_words} in ${water.text}`;
  }
  return water.ml > 1 ? `${agent_words} and ${water.text} of water` : `${agent_words}, neat`;
}
