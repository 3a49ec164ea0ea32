import {
  mdiAlertOutline,
  mdiBottleTonicSkullOutline,
  mdiEyeOutline,
  mdiFire,
  mdiGlassFragile,
  mdiNail,
  mdiPowerPlugOff,
} from "@mdi/js";
import { Alert, Box, Button, Dialog, Paper, Stack, SvgIcon, TextField, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { type Schemas, useBrewer, useClean, useCounter } from "../api/client";
import { Signals } from "../brewer/Signals";
import { Bore } from "../pictures/Bore";
import { Cutaway } from "../pictures/Cutaway";
import { DiscFinder } from "../pictures/DiscFinder";
import { Ladder } from "../pictures/Ladder";
import { Pour } from "../pictures/Pour";
import { Ready } from "../ui/Notices";
import { Clock } from "./Clock";
import { Closed, Stopped } from "./Ends";
import { Glasses } from "./Glasses";
import { LightSince } from "./LightSince";
import { Meanwhile } from "./Meanwhile";
import { Mishaps } from "./Mishaps";
import { NeedleWork } from "./NeedleWork";
import { Questions } from "./Questions";
import { canSpeak, readAloud } from "./readAloud";
import { TimedCup } from "./TimedCup";
import { TimeLeft } from "./TimeLeft";
import { useActs } from "./useActs";
import { useAwake } from "./useAwake";

type View = Schemas["CleanView"];

const hazards: Record<Schemas["Hazard"], string> = {
  unplug: mdiPowerPlugOff,
  hot: mdiFire,
  sharp: mdiNail,
  acid: mdiEyeOutline,
  never_mix: mdiBottleTonicSkullOutline,
  glass: mdiGlassFragile,
  manual: mdiAlertOutline,
};

export function CleanPage() {
  const id = useParams().id ?? "";
  return <Ready query={useClean(id)}>{(clean) => <Running key={id} clean={clean} />}</Ready>;
}

function Running({ clean }: { clean: View }) {
  const { plan, state } = clean;
  const { act, retry, waiting, error } = useActs(clean.id);
  useAwake(!state.paused && !state.closed);
  const navigate = useNavigate();
  const [noting, setNoting] = useState(false);
  const [help, setHelp] = useState(false);
  const [mishap, setMishap] = useState(false);
  const step = state.step ?? undefined;
  const progress = state.current == null ? undefined : state.steps[state.current];

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target instanceof HTMLElement ? event.target : null;
      if (event.ctrlKey || event.metaKey || event.altKey || noting || help || mishap) return;
      if (target && /INPUT|TEXTAREA|SELECT/.test(target.tagName)) return;
      // A focused button answers Space and Enter itself; acting here too would count twice.
      const onButton = target?.tagName === "BUTTON" || target?.tagName === "A";
      const press = (what: Schemas["Act"] | undefined) => {
        if (!what) return;
        event.preventDefault();
        act(what);
      };
      if (event.key === " " && !onButton) press(state.next?.act);
      else if (event.key === "Enter" && !onButton)
        press(
          progress?.target
            ? (state.others.find((o) => o.act.kind === "done" || o.act.kind === "wants_water")?.act ?? state.next?.act)
            : state.next?.act,
        );
      else if (event.key === "Backspace" && state.undo) press({ kind: "undone", event: state.undo });
      else if (event.key.toLowerCase() === "s" && state.next?.act.kind === "started") press(state.next.act);
      else if (event.key.toLowerCase() === "n") {
        event.preventDefault();
        setNoting(true);
      } else if (event.key === "?" || event.key.toLowerCase() === "h") setHelp(true);
      else if (event.key === "Escape") navigate("/");
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [act, help, mishap, navigate, noting, progress, state]);

  return (
    <Stack spacing={2} sx={{ pb: { xs: 26, md: 20 } }}>
      <Tabs clean={clean} />
      <Stack direction="row" sx={{ justifyContent: "space-between", alignItems: "baseline", gap: 2 }}>
        <Typography color="textSecondary" sx={{ overflowWrap: "anywhere", minWidth: 0 }}>
          <Link to={`/brewers/${plan.brewer_id}`} style={{ color: "inherit" }}>
            {plan.nickname}
          </Link>
          {plan.side && ` · ${plan.side}`}
          {state.round > 1 && ` · bath ${state.round}`}
          {plan.work === "rehearsal" && " · rehearsal with plain water"}
          {plan.work === "needles" && " · needles only"}
        </Typography>
        <Typography color="textSecondary" sx={{ whiteSpace: "nowrap" }}>
          {state.current == null ? "all steps done" : `step ${state.current + 1} of ${plan.steps.length}`}
        </Typography>
      </Stack>
      <Box
        role="img"
        aria-label={`${state.steps.filter((s) => s.standing === "done").length} of ${plan.steps.length} steps done`}
        sx={{ display: "flex", gap: "3px" }}
      >
        {state.steps.map((s) => (
          <Box
            key={s.id}
            sx={{
              flex: 1,
              height: 8,
              borderRadius: 1,
              border: 1,
              borderColor: "primary.main",
              bgcolor:
                s.standing === "done" ? "primary.main" : s.standing === "current" ? "warning.main" : "transparent",
            }}
          />
        ))}
      </Box>
      {state.paused ? (
        <Stopped clean={clean} />
      ) : state.closed ? (
        <Closed clean={clean} />
      ) : step ? (
        <>
          <StepCard clean={clean} step={step} act={act} />
          {step.doing.kind !== "ask" &&
            (step.picture === "glasses" || (plan.work === "descale" && (step.id === "run" || step.id === "soak"))) && (
              <Glasses clean={clean} act={act} />
            )}
        </>
      ) : (
        <Typography variant="h1">Everything is done</Typography>
      )}
      {error && (
        <Alert
          severity="warning"
          variant="outlined"
          action={waiting > 0 && <Button onClick={retry}>Send again</Button>}
        >
          {waiting > 0
            ? `No line to the household: ${waiting} waiting to be sent. They are kept on this device and go out in order when it is back; where the clean stands is shown then.`
            : error.message}
        </Alert>
      )}
      {state.notes.map((note) => (
        <Typography key={note.at} color="textSecondary">
          Note: {note.text}
        </Typography>
      ))}
      <Paper
        square
        className="screen-only"
        sx={{
          position: "fixed",
          bottom: 0,
          right: 0,
          left: { xs: 0, md: 190 },
          p: 1.5,
          borderWidth: "1px 0 0 0",
          zIndex: 5,
        }}
      >
        <Stack spacing={1} sx={{ maxWidth: 1130 }}>
          {state.closed && (
            <Button
              component={Link}
              to={`/brewers/${plan.brewer_id}`}
              variant="contained"
              size="large"
              sx={{ minHeight: 64, fontSize: "1.25rem" }}
            >
              See when it is due next
            </Button>
          )}
          {state.next && (
            <Button
              variant="contained"
              size="large"
              sx={{ minHeight: 64, fontSize: "1.25rem" }}
              onClick={() => state.next && act(state.next.act)}
            >
              {state.next.label}
            </Button>
          )}
          <Stack direction="row" sx={{ gap: { xs: 0.5, sm: 0.75 }, flexWrap: "wrap" }}>
            <Button
              sx={{ minHeight: 56, px: { xs: 1, sm: 1.75 } }}
              variant="outlined"
              disabled={!state.undo}
              onClick={() => state.undo && act({ kind: "undone", event: state.undo })}
            >
              Undo
            </Button>
            <Button sx={{ minHeight: 56, px: { xs: 1, sm: 1.75 } }} variant="outlined" onClick={() => setNoting(true)}>
              Note
            </Button>
            {!state.closed && (
              <Button
                sx={{ minHeight: 56, px: { xs: 1, sm: 1.75 } }}
                variant="outlined"
                onClick={() => setMishap(true)}
              >
                Mishap
              </Button>
            )}
            {step && canSpeak && (
              <Button
                sx={{ minHeight: 56, px: { xs: 1, sm: 1.75 } }}
                variant="outlined"
                onClick={() => readAloud(step)}
              >
                Speak
              </Button>
            )}
            {state.others.map((other) => (
              <Button
                key={other.label}
                sx={{ minHeight: 56, px: { xs: 1, sm: 1.75 } }}
                variant="outlined"
                onClick={() => act(other.act)}
              >
                {other.label}
              </Button>
            ))}
            <Typography
              variant="body2"
              color="textSecondary"
              sx={{ display: { xs: "none", md: "block" }, alignSelf: "center", ml: "auto" }}
            >
              Space: the blue button · Backspace: undo · N: note · ?: keys
            </Typography>
          </Stack>
        </Stack>
      </Paper>
      <Mishaps clean={clean.id} open={mishap} onClose={() => setMishap(false)} act={act} />
      <NoteDialog open={noting} onClose={() => setNoting(false)} onNote={(text) => act({ kind: "noted", text })} />
      <Dialog open={help} onClose={() => setHelp(false)} aria-label="Keys">
        <Stack spacing={1} sx={{ p: 3 }}>
          <Typography variant="h2">Keys</Typography>
          <Typography>Space: do the act, count one</Typography>
          <Typography>Enter: this step is done</Typography>
          <Typography>Backspace: undo</Typography>
          <Typography>S: start the timer</Typography>
          <Typography>N: write a note</Typography>
          <Typography>H or ?: these keys, and what this step asks for</Typography>
          <Typography>Esc: back to the Counter; the clean waits</Typography>
          {step && (
            <Typography>
              <strong>{step.title}: </strong>
              {step.what.join(" ")} {step.check}
            </Typography>
          )}
          <Button onClick={() => setHelp(false)}>Close</Button>
        </Stack>
      </Dialog>
    </Stack>
  );
}

/** Every clean that runs now, this one among them; nothing while it is the only one. */
function Tabs({ clean }: { clean: View }) {
  const cards = useCounter().data?.brewers ?? [];
  const running = cards.flatMap((card) =>
    card.circuits.flatMap(({ running_clean: id, name }) =>
      id ? [{ id, label: card.circuits.length > 1 ? `${card.nickname}, ${name}` : card.nickname }] : [],
    ),
  );
  if (running.every(({ id }) => id === clean.id)) return null;
  return (
    <Stack
      component="nav"
      aria-label="Running cleans"
      direction="row"
      sx={{ overflowX: "auto", borderBottom: 1, borderColor: "divider", mt: -1 }}
    >
      {running.map(({ id, label }) => (
        <Button
          key={id}
          component={Link}
          to={`/cleans/${id}`}
          aria-current={id === clean.id ? "page" : undefined}
          color={id === clean.id ? "primary" : "inherit"}
          sx={{
            flexShrink: 0,
            minHeight: 48,
            borderRadius: 0,
            borderBottom: 3,
            borderColor: id === clean.id ? "primary.main" : "transparent",
          }}
        >
          {label}
        </Button>
      ))}
    </Stack>
  );
}

function StepCard({ clean, step, act }: { clean: View; step: Schemas["Step"]; act: (what: Schemas["Act"]) => void }) {
  const { plan, state } = clean;
  const progress = state.steps.find((s) => s.id === step.id);
  const brewer = useBrewer(plan.brewer_id).data;
  return (
    <>
      <Typography variant="h1" sx={{ fontSize: { xs: "2rem", md: "2.6rem" } }}>
        {step.title}
      </Typography>
      <Stack direction={{ xs: "column", md: "row" }} sx={{ gap: 3 }}>
        <Stack spacing={1.5} sx={{ flex: 1 }}>
          {step.figure && !progress?.timer && (
            <Typography sx={{ fontSize: { xs: "1.6rem", md: "2rem" }, fontWeight: 700 }}>
              {step.id === "rinse" && progress ? `${progress.count} of ${progress.target}` : step.figure}
            </Typography>
          )}
          {progress?.timer && <Clock timer={progress.timer} serverNow={clean.now} late={state.late_text} />}
          {step.what.map((line) => (
            <Typography key={line} sx={{ fontSize: "1.2rem" }}>
              {line}
            </Typography>
          ))}
          {state.hint && (
            <Typography sx={{ fontSize: "1.1rem" }} role="status">
              <strong>{state.hint}</strong>
            </Typography>
          )}
          <Signals signals={step.signals ?? []} />
          {step.id === "programme" && progress?.timer && <TimeLeft step={step.id} act={act} />}
          {step.doing.kind === "measure" && plan.work !== "rehearsal" && (
            <TimedCup key={step.id} state={state} step={step.id} cup={step.doing.cup} act={act} />
          )}
          {step.doing.kind === "ask" && !state.verdict && (
            <Questions
              questions={step.doing.questions}
              label={step.act}
              onAnswer={(answers) => act({ kind: "answered", step: step.id, answers })}
            >
              <TimedCup key={step.id} state={state} step={step.id} cup={undefined} act={act} />
              <Glasses clean={clean} act={act} />
            </Questions>
          )}
          {state.verdict_text && (
            <Paper sx={{ p: 2, borderWidth: 2, borderColor: "primary.main" }} role="status">
              <Typography sx={{ fontSize: "1.25rem" }}>{state.verdict_text}</Typography>
            </Paper>
          )}
          {step.cautions.map((caution) => (
            <Stack key={caution.text} direction="row" spacing={1.5} sx={{ alignItems: "flex-start" }}>
              <SvgIcon color="warning" aria-hidden>
                <path d={hazards[caution.hazard]} />
              </SvgIcon>
              <Typography>{caution.text}</Typography>
            </Stack>
          ))}
          {step.id === "ready" && plan.work === "descale" && <LightSince clean={clean} />}
          <Meanwhile clean={clean} act={act} />
        </Stack>
        {/* On a phone the needles come before the words: that is where the finger goes. */}
        <Stack
          spacing={1.5}
          sx={
            step.doing.kind === "clear"
              ? { flex: { md: "0 0 560px" }, order: { xs: -1, md: 0 } }
              : { flex: { md: "0 0 380px" } }
          }
        >
          {step.doing.kind === "clear" && (
            <NeedleWork state={state} step={step.id} needles={step.doing.needles} act={act} />
          )}
          {!step.picture && step.doing.kind !== "clear" && (step.places ?? []).length > 0 && brewer && (
            <Cutaway family={brewer.card.family_id} filter={brewer.draft.filter} lit={step.places ?? []} />
          )}
          {step.picture === "disc" && <DiscFinder reader={brewer?.draft.reader ?? null} />}
          {step.picture === "pour" && (
            <Bath bath={state.is_stronger && plan.stronger ? plan.stronger.bath : plan.bath} />
          )}
          {step.picture === "ladder" && (
            <Ladder
              levels={state.levels_mg_l}
              target={plan.rinse.target_mg_l}
              counted={progress?.count ?? 0}
              schools={plan.rinse.schools}
            />
          )}
          {step.picture === "bore" && <Bore chalk={plan.chalk} size={180} />}
          <Typography>
            <strong>Right when: </strong>
            {step.check}
          </Typography>
          <Typography color="textSecondary">
            <strong>Usual mistake: </strong>
            {step.mistake}
          </Typography>
        </Stack>
      </Stack>
    </>
  );
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

function NoteDialog({ open, onClose, onNote }: { open: boolean; onClose: () => void; onNote: (text: string) => void }) {
  const [text, setText] = useState("");
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="sm" aria-label="Write a note">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          onNote(text);
          setText("");
          onClose();
        }}
      >
        <Stack spacing={2} sx={{ p: 3 }}>
          <TextField
            autoFocus
            label="Note"
            multiline
            minRows={2}
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          <Button type="submit" variant="contained" disabled={text.trim() === ""}>
            Keep the note
          </Button>
        </Stack>
      </form>
    </Dialog>
  );
}
