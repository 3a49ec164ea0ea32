import {
  Box,
  Button,
  List,
  ListItem,
  MenuItem,
  Paper,
  Stack,
  TextField,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { type ReactNode, useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { Refused, type Schemas, send, useBrewer, useChange, useHousehold, usePlan } from "../api/client";
import { newId } from "../api/newId";
import { Noticed } from "../brewer/Noticed";
import { Bore } from "../pictures/Bore";
import { Ladder } from "../pictures/Ladder";
import { NeedlePlan } from "../pictures/NeedlePlan";
import { Pour } from "../pictures/Pour";
import { TimeRibbon } from "../pictures/TimeRibbon";
import { ErrorNotice, Loading, Page } from "../ui/Notices";
import { typedOrNone, typedPercent } from "../ui/typed";
import { Working } from "../ui/Working";
import { Baths } from "./Baths";
import { type Options, undecided } from "./options";
import { tools } from "./tools";

const starts: Record<Schemas["Work"], string> = {
  descale: "Start the clean",
  needles: "Start on the needles",
  rehearsal: "Start the rehearsal",
};

const works = Object.keys(starts) as Schemas["Work"][];

export function PlanPage() {
  const id = useParams().id ?? "";
  const [asked] = useSearchParams();
  const [options, setOptions] = useState<Options>({
    ...undecided,
    work: works.find((work) => work === asked.get("work")) ?? "descale",
    circuit_id: asked.get("side"),
  });
  const brewer = useBrewer(id).data;
  const query = usePlan(id, options);
  const household = useHousehold();
  const navigate = useNavigate();
  const start = useChange((body: Schemas["StartClean"]) => send.start(id, body));
  // While a choice is refused the last plan that could be made stays on screen.
  const [made, setMade] = useState<Schemas["Plan"]>();
  if (query.data && query.data !== made) setMade(query.data);
  const plan = query.data ?? made;
  if (!plan) return query.error ? <ErrorNotice error={query.error} /> : <Loading />;
  const fields = query.error instanceof Refused ? query.error.fields : {};
  const choose = (change: Partial<Options>) => setOptions({ ...options, ...change });
  const whole = plan.work === "descale";
  return (
    <Page
      title={`Plan: ${plan.nickname}`}
      aside={
        <Button
          variant="contained"
          size="large"
          disabled={query.error !== null || start.isPending}
          onClick={() =>
            start.mutate(
              { id: newId(), options, trouble: asked.get("trouble") },
              { onSuccess: (clean) => navigate(`/cleans/${clean.id}`) },
            )
          }
        >
          {starts[plan.work ?? "descale"]}
        </Button>
      }
    >
      <ErrorNotice error={start.error ?? (Object.keys(fields).length > 0 ? null : query.error)} />
      <What brewer={brewer} plan={plan} options={options} choose={choose} />
      {whole && brewer && (
        <Box>
          Does its light ask, or is it slow, cooler, louder? Tell it first: it changes the bath.{" "}
          <Noticed
            id={id}
            circuit={plan.circuit_id}
            today={brewer.today}
            needles={(brewer.draft.needles ?? []).length > 0}
          />
        </Box>
      )}
      <Typography variant="h2" component="p">
        {whole && (plan.chosen.baths ?? 1) > 1 && `${plan.chosen.baths} fresh baths, each `}
        {whole
          ? `${plan.bath.agent_text} of ${plan.bath.agent_name.toLowerCase()} in ${plan.bath.total.text}`
          : plan.work === "needles"
            ? "Clear and flush the needles"
            : "With plain water, to learn the buttons"}
        : {plan.ribbon.text}.
      </Typography>
      {whole && (plan.likely_baths ?? 1) > (plan.chosen.baths ?? 1) && (
        <Typography>
          Likely {plan.likely_baths} fresh baths in all: after each one you look, and Murlo plans the next if it is
          needed.
        </Typography>
      )}
      <Paper sx={{ p: 2, display: "flex", gap: 3, alignItems: "center", flexWrap: "wrap" }}>
        {whole && plan.after && (
          <Stack direction="row" spacing={2} component="figure" sx={{ m: 0, alignItems: "center" }}>
            {[
              { title: "Now", chalk: plan.chalk },
              { title: "After it", chalk: plan.after },
            ].map(({ title, chalk }) => (
              <Stack key={title} sx={{ alignItems: "center" }}>
                <Typography>{title}</Typography>
                <Bore chalk={chalk} size={92} />
              </Stack>
            ))}
          </Stack>
        )}
        <Box sx={{ flex: "1 1 420px", minWidth: 0 }}>
          <TimeRibbon ribbon={plan.ribbon} />
        </Box>
      </Paper>
      {whole && (
        <>
          <Choices
            plan={plan}
            agents={household.data?.agents ?? []}
            options={options}
            fields={fields}
            choose={choose}
          />
          <Baths
            id={id}
            chosen={plan.chosen}
            wishes={{
              ...undecided,
              taste: options.taste ?? null,
              minutes: options.minutes ?? null,
              fill: options.fill ?? null,
              circuit_id: options.circuit_id ?? null,
              by_hand: options.by_hand,
              sure: options.sure,
              dirt: options.dirt,
            }}
            onTake={(bath) =>
              choose({
                agent_id: bath.agent_id,
                recipe: bath.recipe,
                agent_amount: null,
                percent: null,
                measure: null,
                bath: null,
                soak_minutes: null,
                baths: null,
              })
            }
          />
        </>
      )}
      {plan.warnings.map((warning) => (
        <Paper key={warning} sx={{ p: 2, borderColor: "warning.main", borderWidth: 2 }}>
          <Typography>
            <strong>Careful: </strong>
            {warning}
          </Typography>
        </Paper>
      ))}
      <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr", lg: "1fr 1fr" } }}>
        {whole && (
          <>
            <Card title="The bath">
              <Pour bath={plan.bath} />
              <Facts
                rows={[
                  [
                    "Strength",
                    `${plan.bath.percent.toFixed(1)} %${plan.bath.actual_ratio ? `, really ${plan.bath.actual_ratio}` : ""}, pH ${plan.bath.ph.toFixed(1)}`,
                  ],
                  ["Capacity", plan.bath.useful_text],
                  ["Comes out as", plan.dispensing.text],
                  [
                    "Soak",
                    `${Math.round(plan.chosen.soak_minutes)} min (sensible: ${Math.round(plan.soak.low)} to ${Math.round(plan.soak.high)})`,
                  ],
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
    </Page>
  );
}

/** What is to be done, and to which side. */
function What({
  brewer,
  plan,
  options,
  choose,
}: {
  brewer: Schemas["BrewerView"] | undefined;
  plan: Schemas["Plan"];
  options: Options;
  choose: (change: Partial<Options>) => void;
}) {
  const sides = brewer?.card.circuits ?? [];
  const needles = (brewer?.draft.needles ?? []).length > 0;
  const button = { minHeight: 48, color: "text.primary" } as const;
  return (
    <Stack direction="row" sx={{ flexWrap: "wrap", columnGap: 2, rowGap: 1 }}>
      <ToggleButtonGroup
        exclusive
        aria-label="What to do"
        value={plan.work}
        onChange={(_, work: Schemas["Work"] | null) =>
          // Which side has needles, or whose turn it is, is the core's to say.
          work &&
          choose({ work, circuit_id: work === "needles" || options.work === "needles" ? null : options.circuit_id })
        }
      >
        <ToggleButton value="descale" sx={button}>
          Whole clean
        </ToggleButton>
        {needles && (
          <ToggleButton value="needles" sx={button}>
            Just the needles
          </ToggleButton>
        )}
        <ToggleButton value="rehearsal" sx={button}>
          Rehearse with water
        </ToggleButton>
      </ToggleButtonGroup>
      {plan.work === "descale" && (
        <ToggleButtonGroup
          exclusive
          aria-label="What it is for"
          value={options.dirt}
          onChange={(_, dirt: boolean | null) =>
            dirt !== null && choose({ dirt, agent_id: null, recipe: null, soak_minutes: null })
          }
        >
          <ToggleButton value={false} sx={button}>
            For chalk
          </ToggleButton>
          <ToggleButton value={true} sx={button}>
            For dirt only
          </ToggleButton>
        </ToggleButtonGroup>
      )}
      {brewer?.draft.self_clean && plan.work !== "needles" && (
        <ToggleButtonGroup
          exclusive
          aria-label="How it runs"
          value={options.by_hand}
          onChange={(_, by_hand: boolean | null) => by_hand !== null && choose({ by_hand, soak_minutes: null })}
        >
          <ToggleButton value={false} sx={button}>
            By its programme
          </ToggleButton>
          <ToggleButton value={true} sx={button}>
            By hand
          </ToggleButton>
        </ToggleButtonGroup>
      )}
      {sides.length > 1 && plan.work !== "needles" && (
        <ToggleButtonGroup
          exclusive
          aria-label="Which side"
          value={plan.circuit_id}
          onChange={(_, circuit_id: string | null) =>
            circuit_id &&
            choose({
              ...undecided,
              taste: options.taste ?? null,
              work: plan.work ?? "descale",
              by_hand: options.by_hand,
              circuit_id,
            })
          }
        >
          {sides.map((side) => (
            <ToggleButton key={side.circuit_id} value={side.circuit_id} sx={button}>
              {side.name}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
      )}
    </Stack>
  );
}

function Choices({
  plan,
  agents,
  options,
  fields,
  choose,
}: {
  plan: Schemas["Plan"];
  agents: Schemas["Agent"][];
  options: Options;
  fields: Record<string, string>;
  choose: (change: Partial<Options>) => void;
}) {
  const { chosen } = plan;
  const recipe = chosen.recipes.findIndex((r) => JSON.stringify(r.recipe) === JSON.stringify(chosen.recipe));
  return (
    <Paper component="section" aria-label="Choices" sx={{ p: 2 }}>
      <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr 1fr", md: "repeat(5, 1fr)" } }}>
        <TextField
          select
          label="Agent"
          value={agents.length > 0 ? chosen.agent_id : ""}
          onChange={(e) =>
            choose({
              agent_id: e.target.value,
              recipe: null,
              agent_amount: null,
              percent: null,
              measure: null,
              baths: null,
            })
          }
        >
          {agents.map((agent) => (
            <MenuItem key={agent.id} value={agent.id}>
              {agent.name}
            </MenuItem>
          ))}
        </TextField>
        {chosen.percent != null && (
          <TextField
            key={chosen.agent_id}
            label="Strength on the label, %"
            defaultValue={chosen.percent}
            inputMode="decimal"
            error={"percent" in fields}
            helperText={fields.percent}
            onChange={(e) => choose({ percent: typedPercent(e.target.value) })}
          />
        )}
        <TextField
          select
          label="Recipe"
          value={recipe < 0 ? "" : recipe}
          onChange={(e) =>
            choose({ recipe: chosen.recipes[Number(e.target.value)]?.recipe ?? null, agent_amount: null })
          }
        >
          {chosen.recipes.map((r, i) => (
            <MenuItem key={r.label} value={i}>
              {r.label}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          label="Measure with"
          value={chosen.measure}
          error={"measure" in fields}
          helperText={fields.measure}
          onChange={(e) => choose({ measure: e.target.value as Schemas["Tool"] })}
        >
          {chosen.measures.map((tool) => (
            <MenuItem key={tool} value={tool}>
              {tools[tool]}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          label="Bath"
          placeholder={plan.bath.total.text}
          value={options.bath ?? ""}
          error={"bath" in fields}
          helperText={fields.bath ?? "4 cups, 1.2 L, 11 marks"}
          onChange={(e) => choose({ bath: e.target.value === "" ? null : e.target.value })}
          slotProps={{ inputLabel: { shrink: true } }}
        />
        {chosen.percent != null && (
          <TextField
            label="Agent, poured"
            value={options.agent_amount ?? ""}
            placeholder={plan.bath.agent_text}
            error={"agent_amount" in fields}
            helperText={fields.agent_amount ?? "To a mark, then water"}
            onChange={(e) => choose({ agent_amount: e.target.value === "" ? null : e.target.value })}
            slotProps={{ inputLabel: { shrink: true } }}
          />
        )}
        <TextField
          select
          label="Fill"
          value={options.fill ?? ""}
          onChange={(e) => choose({ fill: (e.target.value || null) as Options["fill"], bath: null })}
          slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
        >
          <MenuItem value="">as usual here</MenuItem>
          <MenuItem value="dose">stop at the dose</MenuItem>
          <MenuItem value="full">to the top mark</MenuItem>
        </TextField>
        <TextField
          label="Soak, minutes"
          placeholder={String(Math.round(chosen.soak_minutes))}
          defaultValue=""
          inputMode="numeric"
          error={"soak_minutes" in fields}
          helperText={fields.soak_minutes ?? "Empty: as advised"}
          onChange={(e) => choose({ soak_minutes: typedOrNone(e.target.value) })}
          slotProps={{ inputLabel: { shrink: true } }}
        />
        <TextField
          select
          label="Rinse for"
          value={chosen.taste}
          onChange={(e) => choose({ taste: e.target.value as Schemas["Taste"] })}
        >
          <MenuItem value="usual">most people</MenuItem>
          <MenuItem value="strict">a keen nose</MenuItem>
        </TextField>
        <TextField
          select
          label="Clears"
          value={options.sure ? "sure" : "usual"}
          onChange={(e) => choose({ sure: e.target.value === "sure", soak_minutes: null })}
        >
          <MenuItem value="usual">what is likely</MenuItem>
          <MenuItem value="sure">the high estimate too</MenuItem>
        </TextField>
        <TextField
          select
          label="Fresh baths"
          value={String(chosen.baths ?? 1)}
          error={"baths" in fields}
          helperText={fields.baths}
          onChange={(e) => choose({ baths: Number(e.target.value) })}
        >
          {["1", "2", "3", "4"].map((n) => (
            <MenuItem key={n} value={n}>
              {n}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          label="Minutes you have"
          defaultValue=""
          inputMode="numeric"
          error={"minutes" in fields}
          helperText={fields.minutes ?? "Empty: all day"}
          onChange={(e) => choose({ minutes: typedOrNone(e.target.value) })}
          slotProps={{ inputLabel: { shrink: true } }}
        />
      </Box>
    </Paper>
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
    <Box component="dl" sx={{ m: 0, display: "grid", gridTemplateColumns: "auto 1fr", columnGap: 2, rowGap: 0.5 }}>
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
