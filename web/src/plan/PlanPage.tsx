import { Button, Paper, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { Refused, type Schemas, send, useChange } from "../api/client";
import { newId } from "../api/newId";
import { queries } from "../api/queries";
import { Noticed } from "../brewer/Noticed";
import { ErrorNotice, Loading, Page } from "../ui/Notices";
import { KeepAsWay } from "../ways/KeepAsWay";
import { OwnWay } from "../ways/OwnWay";
import { Alternatives } from "./Alternatives";
import { AtAGlance } from "./AtAGlance";
import { Behind } from "./Behind";
import { ChangeIt, Choices, Ways, What } from "./ChangeIt";
import { Minutes } from "./Minutes";
import { OverDays } from "./OverDays";
import { left, noBath, type Options, taken, undecided, wishes } from "./options";

const starts: Record<Schemas["Work"], string> = {
  descale: "Start the clean",
  needles: "Start on the needles",
  rehearsal: "Start the rehearsal",
  upkeep: "Start the small work",
};

const works = Object.keys(starts) as Schemas["Work"][];

export function PlanPage() {
  const id = useParams().id ?? "";
  const [asked] = useSearchParams();
  const [options, setOptions] = useState<Options>({
    ...undecided,
    work: works.find((work) => work === asked.get("work")) ?? "descale",
    circuit_id: asked.get("side"),
    dirt: asked.get("against") === "dirt",
    way: asked.get("way") ? { kind: "kept", id: asked.get("way") ?? "" } : null,
  });
  const brewer = useQuery(queries.brewer(id)).data;
  const query = useQuery(queries.plan(id, options));
  const household = useQuery(queries.household());
  const navigate = useNavigate();
  const start = useChange((body: Schemas["StartClean"]) => send.start(id, body));
  // While a choice is refused the last plan that could be made stays on screen.
  const [made, setMade] = useState<Schemas["Plan"]>();
  if (query.data && query.data !== made) setMade(query.data);
  const plan = query.data ?? made;
  if (!plan) return query.error ? <ErrorNotice error={query.error} /> : <Loading />;
  const fields = query.error instanceof Refused ? query.error.fields : {};
  const choose = (change: Partial<Options>) => setOptions({ ...options, ...change });
  // Whoever changes a bath begins from the one that is shown, and leaves the household's way by it.
  const chooseBath = (change: Partial<Options>) =>
    choose(plan.way ? { ...left(plan), ...change, way: { kind: "advised" } } : change);
  const whole = plan.work === "descale";
  const held = brewer?.card.circuits.find((circuit) => circuit.circuit_id === plan.circuit_id)?.held;
  return (
    <Page
      title={`Plan: ${plan.nickname}`}
      aside={
        <Button
          variant="contained"
          size="large"
          disabled={query.error !== null || start.isPending || Boolean(held)}
          onClick={() =>
            start.mutate(
              { id: newId(), options, trouble: asked.get("trouble"), begun: null },
              { onSuccess: (clean) => navigate(`/cleans/${clean.id}`) },
            )
          }
        >
          {starts[plan.work ?? "descale"]}
        </Button>
      }
    >
      {held && <Held acid={held} />}
      <ErrorNotice error={start.error ?? (Object.keys(fields).length > 0 ? null : query.error)} />
      <What brewer={brewer} plan={plan} options={options} choose={choose} />
      {whole && brewer && (
        <OwnWay
          brewer={id}
          plan={plan}
          ways={brewer.ways}
          choose={(way) => setOptions({ ...options, ...noBath, way })}
        />
      )}
      {plan.part && (
        <Typography sx={{ fontSize: "1.2rem", fontWeight: 700 }}>
          Part {plan.part.number} of {plan.part.of}: one bath, then rinsed and drinkable.
        </Typography>
      )}
      <AtAGlance plan={plan} />
      {plan.warnings.map((warning) => (
        <Paper key={warning} sx={{ p: 2, borderColor: "warning.main", borderWidth: 2 }}>
          <Typography>
            <strong>Careful: </strong>
            {warning}
          </Typography>
        </Paper>
      ))}
      {whole && (
        <>
          <Stack
            direction="row"
            sx={{ gap: 2, flexWrap: "wrap", alignItems: "center", justifyContent: "space-between" }}
          >
            <Minutes minutes={options.minutes} fields={fields} onChoose={(minutes) => choose({ minutes })} />
            {brewer && (
              <Noticed
                id={id}
                circuit={plan.circuit_id}
                today={brewer.today}
                needles={(brewer.draft.needles ?? []).length > 0}
              />
            )}
          </Stack>
          {(plan.likely_baths ?? 1) > 1 && !plan.part && <OverDays id={id} options={options} />}
          <ChangeIt open={Object.keys(fields).length > 0}>
            <Ways brewer={brewer} plan={plan} options={options} choose={chooseBath} />
            <Choices
              plan={plan}
              agents={household.data?.agents ?? []}
              options={options}
              fields={fields}
              choose={chooseBath}
            />
            {brewer && !plan.way && (
              <KeepAsWay
                key={plan.circuit_id}
                brewer={id}
                side={plan.circuit_id}
                ways={brewer.ways}
                from={{ kind: "plan", options }}
              >
                Always done like this? Kept as your own way, it is what the next plan begins with.
              </KeepAsWay>
            )}
          </ChangeIt>
          <Alternatives
            id={id}
            chosen={plan.chosen}
            wishes={wishes(options)}
            onTake={(bath) => choose({ ...taken(bath), way: plan.way ? { kind: "advised" } : options.way })}
          />
        </>
      )}
      <Behind plan={plan} />
    </Page>
  );
}

/** A bath stands inside: nothing begins on top of it. */
function Held({ acid }: { acid: Schemas["AcidInside"] }) {
  return (
    <Paper component="section" aria-label="Acid inside" sx={{ p: 2, borderWidth: 3, borderColor: "warning.main" }}>
      <Stack direction={{ xs: "column", sm: "row" }} spacing={2} sx={{ alignItems: { sm: "center" } }}>
        <Stack sx={{ flexGrow: 1 }}>
          <Typography sx={{ fontSize: "1.3rem", fontWeight: 700 }}>{acid.text}</Typography>
          <Typography>Nothing else is begun until it is rinsed out, or somebody says by name that it was.</Typography>
        </Stack>
        <Button component={Link} to={`/cleans/${acid.clean_id}`} variant="contained" size="large">
          Rinse it out first
        </Button>
      </Stack>
    </Paper>
  );
}
