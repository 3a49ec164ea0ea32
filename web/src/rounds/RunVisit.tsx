import { Alert, Box, Button, Dialog, MenuItem, Paper, Stack, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useNavigate } from "react-router";
import { type Schemas, send, useChange } from "../api/client";
import { newId } from "../api/newId";
import { queries } from "../api/queries";
import { aboveActs, OpenClean } from "../clean/CleanPage";
import { clockText } from "../clean/clockText";
import { StackedRibbons } from "../pictures/StackedRibbons";
import { ErrorNotice } from "../ui/Notices";
import { useClock } from "../ui/useClock";
import { useNow } from "../ui/useNow";
import { useOnline } from "../ui/useOnline";
import { CloseAlone, CloseVisit } from "./CloseVisit";
import { EndOfVisit, NoTime } from "./EndOfVisit";
import { endText } from "./endText";
import { RinseOut } from "./LeftBehind";
import { NotTaken } from "./NotTaken";
import type { VisitActs } from "./useVisitActs";
import { VisitPhotos } from "./VisitPhotos";

type Next = Schemas["Next"];
type View = Schemas["VisitView"];

/** A moment in which nothing needs to be said of waiting, ms. */
const soon = 20_000;
/** So much late, or left, is nothing to speak of, ms. */
const little = 60_000;

/**
 * A visit under way: what the hands do next, at which brewer and place, until when at the latest, and how long they are free
 * after; the clean or room itself right below. After each act it is put in order again from what is.
 */
export function RunVisit({
  view,
  at,
  following,
  follow,
  acts,
}: {
  view: View;
  at: number;
  following: string | undefined;
  follow: (id: string | undefined) => void;
  acts: VisitActs;
}) {
  const { run, visit } = view;
  const navigate = useNavigate();
  const isOnline = useOnline();
  // Where one is. It changes by a touch only: nothing else comes under a finger that is about to press.
  const [picked, setPicked] = useState<string>();
  const [closing, setClosing] = useState(false);
  const waiting = acts.waiting.map(({ act }) => act);
  const isWaiting = (id: string) =>
    waiting.some(
      (what) => (what.kind === "room_done" && what.room === id) || (what.kind === "dropped" && what.id === id),
    );
  const left = (run?.left.acts ?? []).filter((act) => !isWaiting(act.id));
  const next = left[0];
  const shown = picked ?? next?.id;
  const ahead = run ? Date.parse(run.now) - at : 0;
  useEffect(() => {
    if (shown !== following) follow(shown);
  }, [shown, following, follow]);
  const open = view.stops.find((stop) => stop.id === shown);
  const isOver = open === undefined || open.is_over || open.is_left || isWaiting(open.id);
  useEffect(() => {
    // One stays until it is over there, or taken out.
    if (isOver) setPicked(undefined);
    else setPicked((before) => before ?? shown);
  }, [isOver, shown]);
  if (!run) return null;
  const goTo = (id: string) => {
    setClosing(false);
    setPicked(id);
  };
  const isDone = run.is_done;
  return (
    <Stack spacing={2} sx={open?.clean_id && !closing ? aboveActs : {}}>
      <Strip view={view} run={run} ahead={ahead} />
      {acts.error && (
        <Alert severity="warning" variant="outlined">
          No line to the household: {acts.waiting.length} waiting to be sent. The last order stands; it is made anew
          when the line is back.
        </Alert>
      )}
      <NotTaken acts={acts} />
      {run.left.late && (
        <Alert severity="warning" variant="outlined">
          {run.left.late}
          <Stack sx={{ gap: 1, mt: 1, alignItems: "flex-start" }}>
            {run.inside
              .filter((one) => one.is_bath)
              .map((one) => (
                <RinseOut
                  key={one.id}
                  unrinsed={one}
                  label={`Rinse ${one.name} out now, about ${one.takes}`}
                  then={() => setPicked(one.id)}
                />
              ))}
          </Stack>
        </Alert>
      )}
      <NoTime
        stops={view.stops.filter((stop) => run.left.left_out.includes(stop.id) && !isWaiting(stop.id))}
        until={run.until}
        act={acts.act}
      />
      {next && (
        <NextUp
          next={next}
          isShown={shown === next.id}
          ahead={ahead}
          show={() => setPicked(next.id)}
          arrive={() => acts.act({ kind: "arrived", home: next.home_id })}
        />
      )}
      {open && !isOver && !closing && !(next?.is_elsewhere && shown === next.id) && (
        <Doing
          key={open.id}
          stop={open}
          visit={visit}
          next={left.find((act) => act.id === open.id)}
          act={acts.act}
          isLate={isWaiting(open.id)}
        />
      )}
      {left.length === 0 && !closing && (
        <Paper sx={{ p: 2 }}>
          <Typography variant="h2" component="h1">
            {isDone ? "The visit is done" : "Nothing more is begun"}
          </Typography>
          <Button component={Link} to={`/visits/${visit.id}/cards`} sx={{ mt: 1, mr: 1 }} variant="outlined">
            Cards to leave
          </Button>
          <Button onClick={() => setClosing(true)} sx={{ mt: 1 }} variant="contained" size="large">
            Close the visit
          </Button>
        </Paper>
      )}
      {closing && (!view.worth || acts.error || !isOnline) && (
        <CloseAlone
          view={view}
          isWaiting={isWaiting}
          close={(left) => acts.act({ kind: "closed", left })}
          goTo={goTo}
        />
      )}
      {closing && view.worth && !acts.error && isOnline && (
        <CloseVisit view={view} worth={view.worth} closed={() => navigate(`/visits/${visit.id}`)} goTo={goTo} />
      )}
      {left.length > 0 && !closing && (
        <Paper component="section" aria-label="After that" sx={{ p: 2 }}>
          <Typography variant="h2">After that</Typography>
          <After acts={left.slice(1, 6)} />
          <Box sx={{ mt: 1 }}>
            <StackedRibbons ordered={run.left} />
          </Box>
        </Paper>
      )}
      {!isDone && !closing && <EndOfVisit key={run.until ?? ""} run={run} act={acts.act} />}
      <VisitPhotos view={view} isOver={isDone || closing} />
      <All view={view} shown={shown} pick={setPicked} act={acts.act} isWaiting={isWaiting} />
      {left.length > 0 && !closing && (
        <Box>
          <Button onClick={() => setClosing(true)}>Close the visit early</Button>
        </Box>
      )}
    </Stack>
  );
}

/** "Kiln drip: Empty the carafe"; a room by its name. */
const said = (next: Next) => (next.is_room ? next.name : `${next.name}: ${next.title}`);

/** Where the whole visit stands, and what runs by the clock. */
function Strip({ view, run, ahead }: { view: View; run: Schemas["RunView"]; ahead: number }) {
  const timeOf = useClock();
  const now = useNow() + ahead;
  return (
    <Stack direction="row" sx={{ columnGap: 2, flexWrap: "wrap", justifyContent: "space-between" }}>
      <Typography color="textSecondary">
        Visit: {view.homes.map((home) => home.name).join(", ")} · {endText(run.left, timeOf)}
        {run.pace && `. ${run.pace}.`}
      </Typography>
      <Typography color="textSecondary" component="div">
        {run.timers.map((timer) => {
          const left = Math.ceil((Date.parse(timer.ends_at) - now) / 1000);
          return (
            <span key={timer.clean_id}>
              {timer.name}: {left > 0 ? clockText(left) : `over for ${clockText(-left)}`}{" "}
            </span>
          );
        })}
      </Typography>
    </Stack>
  );
}

/** What the hands do next, where, until when. */
function NextUp({
  next,
  isShown,
  ahead,
  show,
  arrive,
}: {
  next: Next;
  isShown: boolean;
  ahead: number;
  show: () => void;
  arrive: () => void;
}) {
  const timeOf = useClock();
  const now = useNow() + ahead;
  const wait = Date.parse(next.at) - now;
  const late = now - Date.parse(next.latest);
  if (next.is_elsewhere)
    return (
      <Paper component="section" aria-label="Next" sx={{ p: 2, borderWidth: 2, borderColor: "primary.main" }}>
        <Typography variant="body2" color="textSecondary">
          The way
        </Typography>
        <Typography variant="h1" sx={{ fontSize: { xs: "1.5rem", md: "1.9rem" } }}>
          Go to {next.home}
        </Typography>
        <Typography>
          Nothing is left running behind you. There about {timeOf(next.at)}; it begins with {said(next)}.
        </Typography>
        <Button variant="contained" size="large" sx={{ mt: 1, minHeight: 56 }} onClick={arrive}>
          I am there
        </Button>
      </Paper>
    );
  return (
    <Paper
      component="section"
      aria-label="Next"
      sx={{ p: 2, borderWidth: 2, borderColor: late > little ? "warning.main" : "primary.main" }}
    >
      <Typography variant="body2" color="textSecondary">
        {wait > soon ? `In ${clockText(Math.ceil(wait / 1000))}, at ${timeOf(next.at)}` : "Now"}
      </Typography>
      {/* What stands right below in large letters is said small here. */}
      <Typography
        variant={isShown && wait <= soon ? "h3" : "h1"}
        component="h2"
        sx={isShown && wait <= soon ? {} : { fontSize: { xs: "1.5rem", md: "1.9rem" } }}
      >
        {said(next)}
      </Typography>
      <Typography>
        {next.home} ·{" "}
        {late > little
          ? `late by ${clockText(Math.ceil(late / 1000))}; the rest moves with it`
          : -late > little && Date.parse(next.latest) - Date.parse(next.at) > little
            ? `at the latest ${timeOf(next.latest)}, or it ends later; ${next.takes}`
            : next.takes}
      </Typography>
      {wait > soon && <Typography>Until then your hands are free.</Typography>}
      {!isShown && (
        <Button variant="contained" size="large" sx={{ mt: 1, minHeight: 56 }} onClick={show}>
          Go there
        </Button>
      )}
    </Paper>
  );
}

/** The clean, the room, or the start of either. */
function Doing({
  stop,
  visit,
  next,
  act,
  isLate,
}: {
  stop: Schemas["StopView"];
  visit: Schemas["Visit"];
  next: Next | undefined;
  act: (what: Schemas["VisitWhat"]) => void;
  isLate: boolean;
}) {
  const start = useChange((options: Schemas["PlanOptions"]) =>
    send.start(planned?.brewer_id ?? "", { id: newId(), options }),
  );
  const planned = everyStop(visit).find((known) => known.id === stop.id);
  if (stop.is_room)
    return (
      <Paper sx={{ p: 2 }}>
        <Typography variant="h2" component="h1">
          {stop.name}, {stop.what}
        </Typography>
        <Button
          variant="contained"
          size="large"
          disabled={isLate}
          sx={{ mt: 1, minHeight: 64, fontSize: "1.25rem" }}
          onClick={() => act({ kind: "room_done", room: stop.id })}
        >
          {stop.name} is done
        </Button>
      </Paper>
    );
  if (stop.clean_id) return <OpenClean id={stop.clean_id} inVisit />;
  return (
    <Paper sx={{ p: 2 }}>
      <Typography variant="h2" component="h1">
        {stop.name}: {stop.what}
      </Typography>
      <Typography>{next ? `It begins with: ${next.title}.` : "It is not begun."}</Typography>
      <Stack direction="row" sx={{ gap: 1, mt: 1, flexWrap: "wrap" }}>
        <Button
          variant="contained"
          size="large"
          disabled={start.isPending || !planned}
          sx={{ minHeight: 64, fontSize: "1.25rem" }}
          onClick={() => planned?.options && start.mutate(planned.options)}
        >
          Start it
        </Button>
        {planned && stop.what === "descale" && (
          <Button component={Link} to={`/brewers/${planned.brewer_id}/plan`} sx={{ minHeight: 56 }}>
            See its plan
          </Button>
        )}
      </Stack>
      <ErrorNotice error={start.error} />
    </Paper>
  );
}

/** Every brewer of a visit, those that were added on the way too. */
function everyStop(visit: Schemas["Visit"]): Schemas["Stop"][] {
  const added = (visit.events ?? []).flatMap(({ what }) => (what.kind === "added" ? [what.stop] : []));
  return [...(visit.stops ?? []), ...added];
}

function After({ acts }: { acts: Next[] }) {
  const timeOf = useClock();
  return (
    <Box component="ol" sx={{ listStyle: "none", p: 0, m: 0 }}>
      {acts.map((act) => (
        <Typography component="li" key={`${act.id} ${act.step} ${act.at}`} sx={{ py: 0.25 }}>
          <strong>{timeOf(act.at)}</strong> {said(act)}, {act.takes}
        </Typography>
      ))}
    </Box>
  );
}

/** Everything in the visit: done, under way, to come; gone to out of turn, left for another time, added. */
function All({
  view,
  shown,
  pick,
  act,
  isWaiting,
}: {
  view: View;
  shown: string | undefined;
  pick: (id: string) => void;
  act: (what: Schemas["VisitWhat"]) => void;
  isWaiting: (id: string) => boolean;
}) {
  const inside = view.run?.inside ?? [];
  const insideOf = (id: string) => inside.find((one) => one.id === id);
  return (
    <Paper component="section" aria-label="In this visit" sx={{ p: 2 }}>
      <Stack direction="row" sx={{ justifyContent: "space-between", flexWrap: "wrap", gap: 1 }}>
        <Typography variant="h2">In this visit</Typography>
        <Stack direction="row" spacing={1}>
          {view.undo && view.visit.events?.at(-1)?.what.kind !== "started" && (
            <Button onClick={() => act({ kind: "undone", event: view.undo ?? "" })}>Undo the last of the visit</Button>
          )}
          <AddStop view={view} act={act} />
        </Stack>
      </Stack>
      <Box component="ul" sx={{ listStyle: "none", p: 0, m: 0 }}>
        {view.stops.map((stop) => (
          <Stack
            component="li"
            key={stop.id}
            direction="row"
            sx={{
              columnGap: 1,
              py: 0.75,
              borderTop: 1,
              borderColor: "divider",
              alignItems: "center",
              flexWrap: "wrap",
            }}
          >
            <Box aria-hidden sx={{ width: 20 }}>
              {stop.is_left ? "–" : stop.is_over || isWaiting(stop.id) ? "✓" : insideOf(stop.id) ? "▲" : "○"}
            </Box>
            <Box sx={{ flex: "1 1 200px", minWidth: 0 }}>
              <strong>{stop.name}</strong>, {stop.what} · {stop.home}
              <Typography variant="body2" color="textSecondary">
                {insideOf(stop.id)?.is_bath
                  ? `acid is inside; ${stop.state}`
                  : insideOf(stop.id)
                    ? `not rinsed yet; ${stop.state}`
                    : stop.state}
              </Typography>
            </Box>
            {!stop.is_over && !stop.is_left && stop.id !== shown && !isWaiting(stop.id) && (
              <Button onClick={() => pick(stop.id)} aria-label={`Go to ${stop.name}, ${stop.what}`}>
                Go to it
              </Button>
            )}
            {!stop.is_over && !stop.is_left && !stop.clean_id && !isWaiting(stop.id) && (
              <Button
                color="inherit"
                onClick={() => act({ kind: "dropped", id: stop.id })}
                aria-label={`Leave ${stop.name}, ${stop.what} for another time`}
              >
                Another time
              </Button>
            )}
          </Stack>
        ))}
      </Box>
    </Paper>
  );
}

function AddStop({ view, act }: { view: View; act: (what: Schemas["VisitWhat"]) => void }) {
  const [open, setOpen] = useState(false);
  const [chosen, setChosen] = useState("");
  const proposal = useQuery(
    queries.proposal({ homes: open ? view.homes.map((home) => home.id) : [], day: view.visit.day }),
  );
  const others = (proposal.data?.stops ?? []).filter((one) => !view.stops.some((stop) => stop.id === one.stop.id));
  return (
    <>
      <Button variant="outlined" onClick={() => setOpen(true)}>
        Add a brewer
      </Button>
      <Dialog
        open={open}
        onClose={() => setOpen(false)}
        slotProps={{ paper: { "aria-label": "Add a brewer" } }}
        fullWidth
        maxWidth="sm"
      >
        <Stack spacing={2} sx={{ p: 3 }}>
          <Typography variant="h2">Add a brewer</Typography>
          <TextField select label="What to do" value={chosen} onChange={(e) => setChosen(e.target.value)}>
            {others.map((one) => (
              <MenuItem key={one.stop.id} value={one.stop.id} sx={{ whiteSpace: "normal" }}>
                {one.name}: {one.what} ({one.why})
              </MenuItem>
            ))}
          </TextField>
          {proposal.data && others.length === 0 && <Typography>Everything there is part of the visit.</Typography>}
          <ErrorNotice error={proposal.error} />
          <Stack direction="row" spacing={1}>
            <Button
              variant="contained"
              disabled={chosen === ""}
              onClick={() => {
                const one = others.find((other) => other.stop.id === chosen);
                if (one) act({ kind: "added", stop: one.stop });
                setChosen("");
                setOpen(false);
              }}
            >
              Add it
            </Button>
            <Button onClick={() => setOpen(false)}>Not now</Button>
          </Stack>
        </Stack>
      </Dialog>
    </>
  );
}
