import { Box, List, ListItem, Paper, Typography } from "@mui/material";
import type { ReactNode } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { Ladder } from "../pictures/Ladder";
import { NeedlePlan } from "../pictures/NeedlePlan";
import { Working } from "../ui/Working";

/** What stands behind a plan: why, what to lay out, the rinse, the cost, and the working. */
export function Behind({ plan }: { plan: Schemas["Plan"] }) {
  const whole = plan.work === "descale";
  return (
    <Box
      sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: "repeat(2, minmax(0, 1fr))" } }}
    >
      {whole && (
        <>
          <Card title="The bath">
            <Facts
              rows={[
                [
                  "Strength",
                  `${plan.bath.percent.toFixed(1)} %${plan.bath.actual_ratio ? `, really ${plan.bath.actual_ratio}` : ""}, pH ${plan.bath.ph.toFixed(1)}`,
                ],
                ["Capacity", plan.bath.useful_text],
                ["Comes out as", plan.dispensing.text],
                ["Soak", soakOf(plan)],
              ]}
            />
          </Card>
          <Card title={`The rinse: ${plan.rinse.portions} × ${plan.rinse.portion.text}`}>
            <Ladder levels={plan.rinse.levels_mg_l} target={plan.rinse.target_mg_l} schools={plan.rinse.schools} />
            <Facts
              rows={[
                ["Reservoirs to fill", `${plan.rinse.fills}, ${plan.rinse.water.text} of water in all`],
                ["Others go by", plan.rinse.schools.map((s) => `${s.name}: ${s.portions}`).join("; ")],
              ]}
            />
          </Card>
        </>
      )}
      {plan.steps.map(
        (step) =>
          step.doing.kind === "clear" &&
          !whole && (
            <Card key={step.id} title="The needles">
              <NeedlePlan needles={step.doing.needles} clear={[]} />
            </Card>
          ),
      )}
      <Card title="Why">
        <List dense>
          {plan.reasons.map((reason) => (
            <ListItem key={reason} disableGutters>
              {reason}
            </ListItem>
          ))}
        </List>
        {whole && <Working working={plan.working} />}
      </Card>
      <Card title="Lay out">
        <List dense>
          {plan.kit.map((item) => (
            <ListItem key={item} disableGutters>
              {item}
            </ListItem>
          ))}
        </List>
        <Typography variant="body2" color="textSecondary">
          The maker's manual wins where it says otherwise. Never mix with bleach or other cleaners.
        </Typography>
      </Card>
      {plan.cost && (
        <Card title="What it costs" wide>
          <Typography>
            <strong>{plan.cost.text}</strong>
          </Typography>
          <Facts rows={plan.cost.lines.map((line) => [line.what, line.text])} />
          {plan.cost.elsewhere.length > 0 && (
            <>
              <Typography sx={{ mt: 1 }}>The agent, bought elsewhere:</Typography>
              <Facts rows={plan.cost.elsewhere.map((line) => [line.what, line.text])} />
            </>
          )}
          {plan.cost.missing.length > 0 && (
            <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
              Not in it: {plan.cost.missing.join("; ")}. <Link to="/household">Give prices</Link>
            </Typography>
          )}
        </Card>
      )}
    </Box>
  );
}

function Card({ title, wide = false, children }: { title: string; wide?: boolean; children: ReactNode }) {
  return (
    <Paper component="section" sx={{ p: 2, gridColumn: wide ? "1 / -1" : undefined }}>
      <Typography variant="h2" gutterBottom>
        {title}
      </Typography>
      {children}
    </Paper>
  );
}

function Facts({ rows }: { rows: [string, string][] }) {
  return (
    <Box
      component="dl"
      sx={{ m: 0, display: "grid", gridTemplateColumns: "fit-content(60%) minmax(0, 1fr)", columnGap: 2, rowGap: 0.5 }}
    >
      {rows.map(([term, text]) => (
        <Box key={term} sx={{ display: "contents" }}>
          <Typography component="dt" color="textSecondary">
            {term}
          </Typography>
          <Typography component="dd" sx={{ m: 0 }}>
            {text}
          </Typography>
        </Box>
      ))}
    </Box>
  );
}

/** "30 min (sensible: 25 to 40)": the range only where there is one. */
function soakOf({ chosen, soak }: Schemas["Plan"]): string {
  const minutes = Math.round(chosen.soak_minutes);
  if (minutes === 0) {
    return "None";
  }
  const [low, high] = [Math.round(soak.low), Math.round(soak.high)];
  return low < high ? `${minutes} min (sensible: ${low} to ${high})` : `${minutes} min`;
}
