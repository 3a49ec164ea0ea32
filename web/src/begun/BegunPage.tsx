import { Box, Button, Paper, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { Refused, type Schemas, send, useChange } from "../api/client";
import { newId } from "../api/newId";
import { queries } from "../api/queries";
import { Choice } from "../first/Choice";
import { HowFull } from "../pictures/HowFull";
import { undecided } from "../plan/options";
import { CommitField } from "../ui/CommitField";
import { ErrorNotice, Loading, Page, Ready } from "../ui/Notices";
import { Stepper } from "../ui/Stepper";
import { Touches } from "../ui/Touches";
import { useHints } from "../ui/useHints";

const levels = [
  ["1", "To the top"],
  ["0.75", "Three quarters"],
  ["0.5", "Half"],
  ["0.25", "A quarter"],
  ["0", "Nothing any more"],
] as const;

const since = [
  ["2", "Just now"],
  ["10", "10 min"],
  ["20", "20 min"],
  ["30", "Half an hour"],
  ["60", "An hour"],
  ["120", "2 hours"],
  ["600", "Since last night"],
] as const;

const halves = [
  ["0", "Nothing yet"],
  ["1", "About half"],
  ["2", "All of it"],
] as const;

const stood = [
  ["now", "It stands now"],
  ["no", "No, straight on"],
  ["was", "It stood, then went on"],
] as const;

/** For whoever comes with the bath already in: what is in it, how much has run, since when; the clean opens there. */
export function BegunPage() {
  const id = useParams().id ?? "";
  const brewer = useQuery(queries.brewer(id));
  return <Ready query={brewer}>{(known) => <Asking id={id} brewer={known} />}</Ready>;
}

function Asking({ id, brewer }: { id: string; brewer: Schemas["BrewerView"] }) {
  const [asked] = useSearchParams();
  const sides = brewer.card.circuits;
  const [side, setSide] = useState(asked.get("side") ?? sides[0]?.circuit_id ?? "");
  const household = useQuery(queries.household()).data;
  const [agent, setAgent] = useState<string | null>(null);
  const [recipe, setRecipe] = useState("unknown");
  const [level, setLevel] = useState<string | null>(null);
  const [total, setTotal] = useState("");
  const [ran, setRan] = useState(0);
  const [minutes, setMinutes] = useState("10");
  const [rest, setRest] = useState<(typeof stood)[number][0]>("no");
  const [stoodFor, setStoodFor] = useState("20");
  const [programme, setProgramme] = useState(false);
  const hints = useHints();
  const navigate = useNavigate();
  const [clean] = useState(newId);
  const start = useChange((body: Schemas["StartClean"]) => send.start(id, body));
  // What there is to choose from, and how this side is cleaned, is the core's to say.
  const plan = useQuery(
    queries.plan(id, { ...undecided, circuit_id: side, agent_id: agent, way: { kind: "advised" } }),
  ).data;
  const fields = start.error instanceof Refused ? start.error.fields : {};
  if (!plan || !household) return <Loading />;
  const byHalves = plan.steps.some((step) => step.id === "half");
  const byCup = plan.mechanism?.by_cup ?? false;
  const hasProgramme = plan.steps.some((step) => step.id === "programme");
  const recipes = agent ? plan.chosen.recipes : [];
  const begun: Schemas["BegunAlready"] = {
    agent_id: agent ?? "",
    recipe: recipes.find((one) => one.label === recipe)?.recipe ?? null,
    total: total === "" ? null : total,
    level: total !== "" || level === null ? null : Number(level),
    dispenses: ran,
    minutes_ago: Number(minutes),
    stood: rest === "was" ? { kind: "was", minutes: Number(stoodFor) } : { kind: rest },
    in_programme: programme,
  };
  return (
    <Page title={`Begun already: ${brewer.card.nickname}`}>
      <Typography sx={{ fontSize: "1.1rem" }}>
        Touch what is true; nothing has to be exact. The clean opens where it stands.
      </Typography>
      <Paper sx={{ p: 2, display: "flex", flexDirection: "column", gap: 2.5 }}>
        {sides.length > 1 && (
          <Touches
            title="Which side?"
            choices={sides.map((one) => [one.circuit_id, one.name] as const)}
            chosen={[side]}
            onTouch={setSide}
          />
        )}
        <Touches
          title="What is in it?"
          choices={household.agents.map((one) => [one.id, one.name] as const)}
          chosen={agent ? [agent] : []}
          onTouch={(next) => {
            setAgent(next);
            setRecipe("unknown");
          }}
        />
        {recipes.length > 1 && (
          <Touches
            title="How was it thinned?"
            choices={[...recipes.map((one) => [one.label, one.label] as const), ["unknown", "I do not know"] as const]}
            chosen={[recipe]}
            onTouch={setRecipe}
          />
        )}
        {!byCup && (
          <Stack spacing={1}>
            <Typography sx={{ fontWeight: 700 }}>How full does it stand now?</Typography>
            <Box sx={{ display: "grid", gap: 1, gridTemplateColumns: { xs: "repeat(3, 1fr)", sm: "repeat(5, 1fr)" } }}>
              {levels.map(([share, words]) => (
                <Choice
                  key={share}
                  label={words}
                  chosen={total === "" && level === share}
                  onChoose={() => {
                    setTotal("");
                    setLevel(share);
                  }}
                >
                  <HowFull share={Number(share)} />
                </Choice>
              ))}
            </Box>
            <CommitField
              label="Or all that was poured in"
              text={total}
              error={"begun.total" in fields}
              helperText={fields["begun.total"] ?? hints.volume}
              onCommit={setTotal}
              sx={{ maxWidth: 320 }}
            />
          </Stack>
        )}
        {byHalves || byCup ? (
          <Touches
            title="How much has come through?"
            choices={byCup ? ([halves[0], ["1", "All of it"]] as const) : halves}
            chosen={[String(ran)]}
            onTouch={(next) => setRan(Number(next))}
          />
        ) : (
          !hasProgramme && (
            <Stack spacing={0.75}>
              <Typography sx={{ fontWeight: 700 }}>How many mugs have come?</Typography>
              <Stepper label="Mugs" value={ran} most={40} onStep={setRan} />
            </Stack>
          )
        )}
        {hasProgramme && (
          <Touches
            title="Is its cleaning programme on now?"
            choices={[
              ["yes", "Yes, it is on"],
              ["no", "No, not yet"],
            ]}
            chosen={[programme ? "yes" : "no"]}
            onTouch={(next) => setProgramme(next === "yes")}
          />
        )}
        <Touches title="Since when is it in?" choices={since} chosen={[minutes]} onTouch={setMinutes} />
        {!hasProgramme && <Touches title="Has it stood?" choices={stood} chosen={[rest]} onTouch={setRest} />}
        {!hasProgramme && rest === "was" && (
          <Touches
            title="For how long?"
            choices={since.slice(1, 6)}
            chosen={[stoodFor]}
            onTouch={(next) => setStoodFor(next)}
          />
        )}
        <Box>
          <Button
            variant="contained"
            size="large"
            sx={{ minHeight: 56 }}
            disabled={!agent || start.isPending}
            onClick={() =>
              start.mutate(
                { id: clean, options: { ...undecided, circuit_id: side }, trouble: null, begun },
                { onSuccess: (view) => navigate(`/cleans/${view.id}`) },
              )
            }
          >
            Carry on from here
          </Button>
        </Box>
        <ErrorNotice error={"begun.total" in fields ? null : start.error} />
      </Paper>
    </Page>
  );
}
