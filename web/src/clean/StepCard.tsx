import { Box, Button, Paper, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import type { Schemas } from "../api/client";
import { queries } from "../api/queries";
import { Signals } from "../brewer/Signals";
import { StepButtons } from "../buttons/StepButtons";
import { Bore } from "../pictures/Bore";
import { Cutaway } from "../pictures/Cutaway";
import { DiscFinder } from "../pictures/DiscFinder";
import { Ladder } from "../pictures/Ladder";
import { Pour } from "../pictures/Pour";
import { AskedHere } from "./AskedHere";
import { Calls } from "./Calls";
import { Cautions } from "./Cautions";
import { Clock } from "./Clock";
import { FilterSince, LightSince } from "./DayTold";
import { Glasses } from "./Glasses";
import { Meanwhile } from "./Meanwhile";
import { NeedleWork } from "./NeedleWork";
import { PouredOtherwise } from "./PouredOtherwise";
import { Questions } from "./Questions";
import { TimedCup } from "./TimedCup";
import { TimeLeft } from "./TimeLeft";

type View = Schemas["CleanView"];
type Step = Schemas["Step"];
type Act = (what: Schemas["Act"]) => void;

/** The step: what it is called, its figure, its cautions, the picture, and then the words. */
export function StepCard({
  clean,
  ahead,
  step,
  act,
  press,
}: {
  clean: View;
  ahead: number;
  step: Step;
  act: Act;
  press: (choice: Schemas["Choice"]) => void;
}) {
  const { plan, state } = clean;
  const progress = state.steps.find((s) => s.id === step.id);
  const keysOff = useQuery(queries.household()).data?.settings.keys_off ?? false;
  const heading = useRef<HTMLHeadingElement>(null);
  const was = useRef(step.id);
  useEffect(() => {
    // Whoever reads with the ears, or goes by keys, is where the hands are.
    if (was.current !== step.id) heading.current?.focus({ preventScroll: true });
    was.current = step.id;
  }, [step.id]);
  const wide = step.doing.kind === "clear" ? 560 : step.doing.kind === "ask" ? 0 : 380;
  return (
    <>
      <Typography
        variant="h1"
        ref={heading}
        tabIndex={-1}
        sx={{ fontSize: { xs: "2rem", md: "2.6rem" }, outline: "none" }}
      >
        {step.title}
      </Typography>
      {step.figure && !progress?.timer && (
        <Typography sx={{ fontSize: { xs: "1.6rem", md: "2rem" }, fontWeight: 700 }}>{step.figure}</Typography>
      )}
      {progress?.timer && (
        <Clock timer={progress.timer} ahead={ahead} late={state.late_text} forgotten={state.forgotten} />
      )}
      {state.hint && (
        <Typography sx={{ fontSize: "1.1rem" }} role="status">
          <strong>{state.hint}</strong>
        </Typography>
      )}
      <Box
        sx={{
          display: "grid",
          columnGap: 3,
          rowGap: 2,
          gridTemplateColumns: { xs: "minmax(0, 1fr)", md: wide ? `minmax(0, 1fr) ${wide}px` : "minmax(0, 1fr)" },
          gridTemplateRows: { md: wide ? "auto 1fr" : "auto" },
          gridTemplateAreas: {
            xs: wide ? '"cautions" "picture" "words"' : '"cautions" "words"',
            md: wide ? '"cautions picture" "words picture"' : '"cautions" "words"',
          },
        }}
      >
        <Stack spacing={1.5} sx={{ gridArea: "cautions", minWidth: 0 }}>
          <Cautions cautions={step.cautions} />
          {state.asked.map((asked) => (
            <AskedHere key={asked.text} asked={asked} press={press} />
          ))}
        </Stack>
        <Stack spacing={1.5} sx={{ gridArea: "words", minWidth: 0 }}>
          <StepButtons clean={clean} />
          {step.what.map((line) => (
            <Typography key={line} sx={{ fontSize: "1.2rem" }}>
              {line}
            </Typography>
          ))}
          {step.doing.kind === "wait" && <Calls />}
          <Signals signals={step.signals ?? []} />
          {state.kind === "programme" && progress?.timer && <TimeLeft step={step.id} act={act} />}
          {step.doing.kind === "measure" && plan.work !== "rehearsal" && (
            <TimedCup key={step.id} state={state} step={step.id} cup={step.doing.cup} act={act} />
          )}
          {step.doing.kind === "ask" && !state.verdict && (
            <Questions
              keysOff={keysOff}
              questions={step.doing.questions}
              label={step.act}
              onAnswer={(answers) => act({ kind: "answered", step: step.id, answers })}
            >
              {state.kind === "verify" && (
                <TimedCup key={step.id} state={state} step={step.id} cup={undefined} act={act} />
              )}
              <Glasses clean={clean} act={act} />
            </Questions>
          )}
          {state.further.length > 0 && (
            <Stack spacing={1} component="section" aria-label="Another bath">
              <Typography color="textSecondary">Or another bath, whatever it brought:</Typography>
              <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap" }}>
                {state.further.map((choice) => (
                  <Button key={choice.label} variant="outlined" sx={{ minHeight: 56 }} onClick={() => press(choice)}>
                    {choice.label}
                  </Button>
                ))}
              </Stack>
            </Stack>
          )}
          {state.verdict_text && (
            <Paper sx={{ p: 2, borderWidth: 2, borderColor: "primary.main" }} role="status">
              <Typography sx={{ fontSize: "1.25rem" }}>{state.verdict_text}</Typography>
            </Paper>
          )}
          {state.kind === "baseline" && plan.work === "descale" && <LightSince clean={clean} />}
          {state.kind === "filter" && <FilterSince clean={clean} />}
          <NotSo choices={state.corrections} press={press} />
          {state.may_be_poured_otherwise && <PouredOtherwise clean={clean} act={act} />}
          <Meanwhile clean={clean} act={act} />
          <Typography>
            <strong>Right when: </strong>
            {step.check}
          </Typography>
          <Typography color="textSecondary">
            <strong>Usual mistake: </strong>
            {step.mistake}
          </Typography>
        </Stack>
        {wide > 0 && (
          <Box sx={{ gridArea: "picture", minWidth: 0 }}>
            <Picture clean={clean} step={step} act={act} />
          </Box>
        )}
      </Box>
    </>
  );
}

/** What may be otherwise with this brewer: pressed, it is kept with the brewer, and the rest of the clean goes by it. */
function NotSo({ choices, press }: { choices: Schemas["Choice"][]; press: (choice: Schemas["Choice"]) => void }) {
  if (choices.length === 0) return null;
  return (
    <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap", alignItems: "center" }}>
      <Typography color="textSecondary">Not so with yours?</Typography>
      {choices.map((choice) => (
        <Button
          key={choice.label}
          variant="outlined"
          color="inherit"
          sx={{ minHeight: 44 }}
          onClick={() => press(choice)}
        >
          {choice.label}
        </Button>
      ))}
    </Stack>
  );
}

function Picture({ clean, step, act }: { clean: View; step: Step; act: Act }) {
  const { plan, state } = clean;
  const brewer = useQuery(queries.brewer(plan.brewer_id)).data;
  if (step.doing.kind === "clear")
    return <NeedleWork state={state} step={step.id} needles={step.doing.needles} act={act} />;
  switch (step.picture) {
    case "pour":
      return <Bath bath={plan.bath} />;
    case "ladder":
      return (
        <Ladder
          levels={state.levels_mg_l}
          target={plan.rinse.target_mg_l}
          counted={state.steps.find((s) => s.id === step.id)?.count ?? 0}
          schools={plan.rinse.schools}
        />
      );
    case "disc":
      return <DiscFinder reader={brewer?.draft.reader ?? null} />;
    default:
      return (
        <Stack direction="row" sx={{ alignItems: "center", flexWrap: { xs: "wrap", sm: "nowrap" }, gap: 1 }}>
          {brewer && (
            <Cutaway
              family={brewer.card.family_id}
              filter={state.filter_in}
              lit={step.places ?? []}
              inside={state.inside}
            />
          )}
          {step.picture === "bore" && <Bore chalk={plan.chalk} size={84} />}
        </Stack>
      );
  }
}

/** The pour, and what it is after rounding to the marks. */
function Bath({ bath }: { bath: Schemas["Mixed"] }) {
  return (
    <Box>
      <Pour bath={bath} />
      <Typography>
        Really <strong>{bath.percent.toFixed(1)} %</strong>
        {bath.actual_ratio && `, ${bath.actual_ratio}`}, pH {bath.ph.toFixed(1)}; {bath.useful_text}.
      </Typography>
    </Box>
  );
}
