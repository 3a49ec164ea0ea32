import {
  Alert,
  Box,
  Button,
  Dialog,
  Menu,
  MenuItem,
  Paper,
  Stack,
  TextField,
  Typography,
  useMediaQuery,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { wasHere } from "../acts/lastActHere";
import { Refused, type Schemas } from "../api/client";
import { queries } from "../api/queries";
import { useAlarm } from "../ui/Alarms";
import { EraseForGood } from "../ui/EraseForGood";
import { mayAct } from "../ui/keys";
import { Ready } from "../ui/Notices";
import { useClock } from "../ui/useClock";
import { useOnline } from "../ui/useOnline";
import { wordsOf } from "./actWords";
import { Closed, Stopped } from "./Ends";
import { Glasses } from "./Glasses";
import { InItNow } from "./InItNow";
import { Mishaps } from "./Mishaps";
import { canSpeak, readAloud } from "./readAloud";
import { StepCard } from "./StepCard";
import { serverAhead } from "./serverAhead";
import { useAwake } from "./useAwake";
import { useCleanActs } from "./useCleanActs";
import { usePress } from "./usePress";
import { walked } from "./wayAhead";

/** A laptop at 200 % zoom, or a phone on its side: the bar must leave room for the step. */
const low = "@media (max-height: 620px)";

/** A phone: what is pressed rarely is folded there, so that the bar leaves the step its room. */
const narrow = "(max-width: 599px)";

/** The blue button: as high at each step, whatever its words are. */
const main = {
  height: 64,
  fontSize: "1.25rem",
  lineHeight: 1.15,
  [low]: { height: 56, fontSize: "1.05rem", minWidth: 0 },
} as const;

/** What stands beside the blue button. */
const beside = { minHeight: 56, px: { xs: 1, sm: 1.75 }, flexShrink: 0 } as const;

type View = Schemas["CleanView"];

export function CleanPage() {
  return <OpenClean id={useParams().id ?? ""} />;
}

/** Room below a page for the acts, which stand over its end. */
export const aboveActs = { pb: { xs: 26, md: 20 } };

/** A clean with its bar; within a visit the visit says which one is next. */
export function OpenClean({ id, inVisit = false }: { id: string; inVisit?: boolean }) {
  const query = useQuery(queries.clean(id));
  return (
    <Ready query={query}>
      {(clean) => (
        <Running
          key={id}
          clean={clean}
          ahead={serverAhead(clean.now, query.dataUpdatedAt, navigator.onLine, localStorage)}
          inVisit={inVisit}
        />
      )}
    </Ready>
  );
}

function Running({ clean: told, ahead, inVisit }: { clean: View; ahead: number; inVisit: boolean }) {
  const { act, retry, letGo, takeBack, waiting, error, aside } = useCleanActs(told.id);
  const way = useQuery(queries.ahead(told.id, told.events, !told.state.closed && !told.state.paused));
  const { view: clean, known } = walked(told, way.data, waiting, ahead);
  const { plan, state } = clean;
  const timer = state.paused || state.current == null ? null : state.steps[state.current]?.timer;
  useAlarm(
    clean.id,
    timer ? { name: plan.nickname, title: state.step?.title ?? "", ends: Date.parse(timer.ends_at) - ahead } : null,
  );
  // A waiting act is taken back before any that arrived.
  const undo = () => {
    if (!takeBack() && state.undo) press(undoing(state.undo));
  };
  const canUndo = waiting.length > 0 || Boolean(state.undo);
  const timeOf = useClock();
  const keysOff = useQuery(queries.household()).data?.settings.keys_off ?? false;
  useAwake(!state.paused && !state.closed);
  const navigate = useNavigate();
  const online = useOnline();
  const [noting, setNoting] = useState(false);
  const [help, setHelp] = useState(false);
  const [mishap, setMishap] = useState(false);
  const [looking, setLooking] = useState(false);
  const [skipped, setSkipped] = useState<string>();
  // What waits to be sent was done here just now.
  const left = useLeft(told, ahead) && waiting.length === 0;
  const asks = looking || (left && skipped !== (state.undo ?? ""));
  const step = state.step ?? undefined;
  const { press, once, isHeld, question } = usePress(act, ahead);
  const isNarrow = useMediaQuery(narrow, { noSsr: true });
  const rare = [
    { label: "Note", does: () => setNoting(true) },
    ...(state.closed ? [] : [{ label: "Mishap", does: () => setMishap(true) }]),
    ...(step && canSpeak ? [{ label: "Speak", does: () => readAloud(step) }] : []),
  ];

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!mayAct(event, keysOff)) return;
      // A focused button answers Space and Enter itself; acting here too would count twice.
      const onButton = event.target instanceof Element && event.target.closest("button, a") !== null;
      const does = (choice: Schemas["Choice"] | null | undefined) => {
        event.preventDefault();
        press(choice);
      };
      if (asks) return;
      if (event.key === " " && !onButton) does(state.next);
      else if (event.key === "Enter" && !onButton) does(state.finish);
      else if (event.key === "Backspace" && canUndo) {
        event.preventDefault();
        undo();
      } else if (event.key.toLowerCase() === "s" && state.next?.act.kind === "started") does(state.next);
      else if (event.key.toLowerCase() === "n") {
        event.preventDefault();
        setNoting(true);
      } else if (event.key === "?" || event.key.toLowerCase() === "h") setHelp(true);
      else if (event.key === "Escape") navigate("/");
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  });

  return (
    <Stack spacing={2} sx={inVisit ? {} : aboveActs}>
      {!inVisit && <Tabs clean={clean} />}
      <Stack
        direction="row"
        className="screen-only"
        sx={{ justifyContent: "space-between", alignItems: "baseline", columnGap: 2, flexWrap: "wrap" }}
      >
        <Typography color="textSecondary" sx={{ overflowWrap: "anywhere", minWidth: 0 }}>
          <Link to={`/brewers/${plan.brewer_id}`} style={{ color: "inherit" }}>
            {plan.nickname}
          </Link>
          {plan.side && ` · ${plan.side}`}
          {state.round > 1 && ` · bath ${state.round}`}
          {plan.work === "rehearsal" && " · rehearsal with plain water"}
          {plan.work === "needles" && " · needles only"}
        </Typography>
        <Typography color="textSecondary">
          {state.done_about && `done about ${timeOf(state.done_about)} · `}
          {state.current == null ? "all steps done" : `step ${state.current + 1} of ${plan.steps.length}`}
        </Typography>
      </Stack>
      <Box
        role="img"
        aria-label={`${state.steps.filter((s) => s.standing === "done").length} of ${plan.steps.length} steps done`}
        className="screen-only"
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
      {(error || !online) && (
        <Typography color="textSecondary" role="status">
          {`As it was at ${timeOf(clean.now)}, when the household was last reached: what another device has done since is not in it.`}
        </Typography>
      )}
      {asks ? (
        <InItNow
          found={(found) => {
            setLooking(false);
            act({ kind: "found", found });
          }}
          skip={() => {
            setLooking(false);
            setSkipped(state.undo ?? "");
          }}
        />
      ) : state.paused ? (
        <Stopped clean={clean} ahead={ahead} />
      ) : state.closed ? (
        <Closed clean={clean} act={once} />
      ) : step ? (
        <>
          {clean.leave_alone && (
            <Paper role="alert" sx={{ p: 2, borderWidth: 2, borderColor: "warning.main" }}>
              <Typography sx={{ fontSize: "1.2rem" }}>{clean.leave_alone}</Typography>
            </Paper>
          )}
          <StepCard clean={clean} ahead={ahead} step={step} act={once} press={press} />
          {step.doing.kind !== "ask" && state.shows_glass && <Glasses clean={clean} act={once} />}
        </>
      ) : (
        <Typography variant="h1">Everything is done</Typography>
      )}
      {error && (
        <Alert
          severity="warning"
          variant="outlined"
          action={waiting.length > 0 && <Button onClick={retry}>Send again</Button>}
        >
          {`${error instanceof Refused ? error.message : "No line to the household"}: ${waiting.length} waiting to be sent. They are kept on this device and go out in order when it is back${known ? "" : "; where the clean stands is shown then"}.`}
        </Alert>
      )}
      {aside.map(({ event, reason }) => (
        <Alert
          key={event.id}
          severity="warning"
          variant="outlined"
          action={<Button onClick={() => letGo(event.id)}>I have read it</Button>}
        >
          {`Not taken: “${wordsOf(event.act, plan)}”. ${reason}`}
        </Alert>
      ))}
      {state.notes.map((note) => (
        <Stack key={note.at} direction="row" sx={{ alignItems: "center", gap: 1 }}>
          <Typography color="textSecondary" sx={{ overflowWrap: "anywhere", minWidth: 0 }}>
            Note: {note.text}
          </Typography>
          {state.closed && (
            <EraseForGood
              what={{ kind: "note", of: { in: "clean", clean_id: clean.id, at: note.at } }}
              name="this note"
              label="Erase"
            />
          )}
        </Stack>
      ))}
      <Paper
        square
        component="section"
        aria-label="Acts"
        className="screen-only"
        sx={{
          position: "fixed",
          bottom: 0,
          right: 0,
          left: { xs: 0, md: 190 },
          p: 1.5,
          [low]: { p: 1 },
          borderWidth: "1px 0 0 0",
          zIndex: 5,
        }}
      >
        <Stack sx={{ maxWidth: 1130, gap: 1, [low]: { flexDirection: "row" } }}>
          {state.closed && !state.acid_left && !inVisit && (
            <Button
              component={Link}
              to={plan.work === "upkeep" ? "/" : `/brewers/${plan.brewer_id}`}
              variant="contained"
              size="large"
              sx={main}
            >
              {plan.work === "upkeep" ? "Back to today's list" : "See when it is due next"}
            </Button>
          )}
          {state.next && !asks && (
            <Button
              variant="contained"
              size="large"
              sx={main}
              aria-disabled={isHeld || undefined}
              onClick={() => press(state.next)}
            >
              {state.next.label}
            </Button>
          )}
          <Stack
            direction="row"
            sx={{
              gap: { xs: 0.5, sm: 0.75 },
              [low]: { minWidth: 0, overflowX: "auto", "& > *": { flexShrink: 0 } },
            }}
          >
            <Button
              sx={beside}
              variant="outlined"
              disabled={!canUndo}
              aria-disabled={isHeld || undefined}
              onClick={undo}
            >
              Undo
            </Button>
            {state.others.slice(0, isNarrow ? 1 : 9).map((other) => (
              <Button
                key={other.label}
                sx={{ ...beside, flexShrink: 1, minWidth: 0, lineHeight: 1.15 }}
                variant="outlined"
                aria-disabled={isHeld || undefined}
                onClick={() => press(other)}
              >
                {other.label}
              </Button>
            ))}
            {isNarrow ? (
              <Folded
                acts={[
                  ...state.others.slice(1).map(({ label }, n) => ({ label, does: () => press(state.others[n + 1]) })),
                  ...rare,
                ]}
              />
            ) : (
              rare.map(({ label, does }) => (
                <Button key={label} sx={beside} variant="outlined" onClick={does}>
                  {label}
                </Button>
              ))
            )}
            <Typography
              variant="body2"
              color="textSecondary"
              sx={{ display: { xs: "none", md: "block" }, alignSelf: "center", ml: "auto" }}
            >
              {!keysOff && !asks && "Space: the blue button · Backspace: undo · N: note · ?: keys"}
            </Typography>
          </Stack>
        </Stack>
      </Paper>
      {question}
      <Mishaps
        clean={clean.id}
        open={mishap}
        onClose={() => setMishap(false)}
        act={act}
        look={() => {
          setMishap(false);
          setLooking(true);
        }}
      />
      <NoteDialog open={noting} onClose={() => setNoting(false)} onNote={(text) => act({ kind: "noted", text })} />
      <Dialog open={help} onClose={() => setHelp(false)} slotProps={{ paper: { "aria-label": "Keys" } }}>
        <Stack spacing={1} sx={{ p: 3 }}>
          <Typography variant="h2">Keys</Typography>
          <Typography>Space: do the act, count one</Typography>
          <Typography>Enter: end this step, where it can end now</Typography>
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

/** Acts behind one button. */
function Folded({ acts }: { acts: { label: string; does: () => void }[] }) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  return (
    <>
      <Button
        sx={{ ...beside, ml: "auto" }}
        variant="outlined"
        aria-haspopup="menu"
        aria-expanded={at !== null}
        onClick={(event) => setAt(event.currentTarget)}
      >
        More
      </Button>
      <Menu open={at !== null} anchorEl={at} onClose={() => setAt(null)}>
        {acts.map(({ label, does }) => (
          <MenuItem
            key={label}
            sx={{ minHeight: 56 }}
            onClick={() => {
              setAt(null);
              does();
            }}
          >
            {label}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

/** Whether it was left so long, or by another device, that nobody here knows what is in it. */
function useLeft({ id, state }: View, ahead: number): boolean {
  const { asks_inside: asks, undo } = state;
  const from = asks && Date.parse(wasHere(id, undo) ? asks.from : asks.from_elsewhere) - ahead;
  const [isLeft, setIsLeft] = useState(false);
  useEffect(() => {
    const wait = from ? from - Date.now() : null;
    setIsLeft(wait !== null && wait <= 0);
    // Whoever has the page open is not asked in the middle of reading it: only on coming back to it.
    const look = () => setIsLeft(from ? Date.now() >= from : false);
    document.addEventListener("visibilitychange", look);
    return () => document.removeEventListener("visibilitychange", look);
  }, [from]);
  return isLeft;
}

const undoing = (event: string): Schemas["Choice"] => ({ label: "Undo", act: { kind: "undone", event } });

/** Every clean that runs now, this one among them; nothing while it is the only one. */
function Tabs({ clean }: { clean: View }) {
  const cards = useQuery(queries.counter()).data?.brewers ?? [];
  const running = cards.flatMap((card) =>
    card.circuits.flatMap(({ running_clean: id, name }) =>
      id ? [{ id, label: card.circuits.length > 1 ? `${card.nickname}, ${name}` : card.nickname }] : [],
    ),
  );
  const here = useRef<HTMLAnchorElement>(null);
  useEffect(() => {
    // What it gives back is no clean-up.
    here.current?.scrollIntoView({ block: "nearest", inline: "center" });
  }, []);
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
          ref={id === clean.id ? here : undefined}
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

function NoteDialog({ open, onClose, onNote }: { open: boolean; onClose: () => void; onNote: (text: string) => void }) {
  const [text, setText] = useState("");
  return (
    <Dialog
      open={open}
      onClose={onClose}
      fullWidth
      maxWidth="sm"
      slotProps={{ paper: { "aria-label": "Write a note" } }}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          onNote(text);
          setText("");
          onClose();
        }}
      >
        <Stack spacing={2} sx={{ p: 3 }}>
          <Typography variant="h2">Write a note</Typography>
          <TextField
            autoFocus
            label="Note"
            multiline
            minRows={2}
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          <Stack direction="row" spacing={1}>
            <Button type="submit" variant="contained" sx={{ minHeight: 56 }} disabled={text.trim() === ""}>
              Keep the note
            </Button>
            <Button sx={{ minHeight: 56 }} onClick={onClose}>
              Back to the clean
            </Button>
          </Stack>
        </Stack>
      </form>
    </Dialog>
  );
}
