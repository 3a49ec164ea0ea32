import { Alert, Box, Button, Paper, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { NoLine, type Schemas, send, useChange } from "../api/client";
import { newId } from "../api/newId";
import { queries } from "../api/queries";
import { ErrorNotice, Page, Ready } from "../ui/Notices";
import { useUndo } from "../ui/Undo";
import { useDayAndTime } from "../ui/useClock";
import { useOnline } from "../ui/useOnline";
import { begunHere } from "./begunHere";
import { Worth } from "./CloseVisit";
import { NotTaken } from "./NotTaken";
import { PlanForm } from "./PlanVisit";
import { RunVisit } from "./RunVisit";
import { useVisitActs, type VisitActs } from "./useVisitActs";
import { VisitPhotos } from "./VisitPhotos";

/** A visit, as far as it is: planned, run, over. */
export function VisitPage() {
  const id = useParams().id ?? "";
  const [following, setFollowing] = useState<string>();
  const asked = useQuery(queries.visit(id, following));
  // Another instruction is followed without a line too: what was seen last stands until an answer comes.
  const seen = useRef<{ id: string; view: typeof asked.data }>(undefined);
  if (asked.data) seen.current = { id, view: asked.data };
  const visit = { data: seen.current?.id === id ? seen.current.view : undefined, error: asked.error };
  const acts = useVisitActs(id);
  const isOnline = useOnline();
  const waits = (kind: Schemas["VisitWhat"]["kind"]) => acts.waiting.find(({ act }) => act.kind === kind);
  return (
    <Ready query={visit}>
      {(view) => {
        if (waits("closed")) return <ClosedHere view={view} waiting={acts.waiting.length} />;
        const began = waits("started")?.device_at;
        const shown = began && view.stage === "planned" ? begunHere(view, began) : view;
        if (shown.stage === "closed") return <Over view={shown} acts={acts} />;
        if (shown.stage === "running")
          return <RunVisit view={shown} at={shown.at} following={following} follow={setFollowing} acts={acts} />;
        const alone = <PlannedAlone view={view} start={() => acts.act({ kind: "started" })} />;
        return isOnline ? <Planned view={view} acts={acts} alone={alone} /> : alone;
      }}
    </Ready>
  );
}

/** A planned visit without a line: what is in it, and its start. */
function PlannedAlone({ view, start }: { view: Schemas["VisitView"]; start: () => void }) {
  const say = useDayAndTime();
  return (
    <Page title={`Visit, ${say(view.visit.day, view.visit.from)}`}>
      <Alert severity="info" variant="outlined">
        No line to the household: the plan stands as it was seen last. It can be begun, and rooms be done; what you do
        waits on this device.
      </Alert>
      <Stops stops={view.stops} />
      <Box>
        <Button variant="contained" size="large" onClick={start}>
          Start now
        </Button>
      </Box>
    </Page>
  );
}

/** A visit that was closed without a line. */
function ClosedHere({ view, waiting }: { view: Schemas["VisitView"]; waiting: number }) {
  const say = useDayAndTime();
  return (
    <Page title={`Visit, ${say(view.visit.day, view.visit.from)}`}>
      <Alert severity="info" variant="outlined">
        Closed on this device: {waiting} waiting to be sent. They go by themselves once the line is back; the price is
        made of what was done until you closed it.
      </Alert>
      <Stops stops={view.stops} />
    </Page>
  );
}

function Planned({ view, acts, alone }: { view: Schemas["VisitView"]; acts: VisitActs; alone: ReactNode }) {
  const say = useDayAndTime();
  const navigate = useNavigate();
  const offerUndo = useUndo();
  const away = useChange(send.deleteVisit);
  const back = useChange(send.restoreVisit);
  const homes = view.homes.map((home) => home.id);
  // A telephone on the road has a network, and the household may be out of its reach all the same.
  const reached = useQuery(queries.proposal({ homes, day: view.visit.day, visit_id: view.visit.id }));
  if (reached.error instanceof NoLine) return alone;
  return (
    <Page
      title={`Visit, ${say(view.visit.day, view.visit.from)}`}
      aside={
        <Button
          onClick={() =>
            away.mutate(view.visit.id, {
              onSuccess: () => {
                navigate("/round");
                offerUndo({ text: "The visit is called off", undo: () => back.mutate(view.visit.id) });
              },
            })
          }
        >
          Call it off
        </Button>
      }
    >
      <ErrorNotice error={away.error} />
      <NotTaken acts={acts} />
      <PlanForm visit={view.visit} homes={homes} isNew={false} />
    </Page>
  );
}

function Over({ view, acts }: { view: Schemas["VisitView"]; acts: VisitActs }) {
  const say = useDayAndTime();
  const act = useChange((what: Schemas["VisitWhat"]) => send.visitAct(view.visit.id, { id: newId(), what }));
  return (
    <Page
      title={`Visit, ${say(view.visit.day, view.visit.from)}`}
      aside={
        <Button component={Link} to={`/visits/${view.visit.id}/cards`} variant="outlined">
          Cards to leave
        </Button>
      }
    >
      <NotTaken acts={acts} />
      <Typography color="textSecondary">
        {view.homes.map((home) => home.name).join(", ")}
        {view.worth && ` · ${view.worth.text}`}
      </Typography>
      <Stops stops={view.stops} />
      {view.worth && <Worth worth={view.worth} />}
      <VisitPhotos view={view} isOver />
      <ErrorNotice error={act.error} />
      <Box>
        <Button onClick={() => act.mutate({ kind: "reopened" })}>Open it again</Button>
      </Box>
    </Page>
  );
}

/** What became of each. */
export function Stops({ stops }: { stops: Schemas["StopView"][] }) {
  return (
    <Paper component="section" aria-label="What was done" sx={{ p: 2 }}>
      <Box component="ul" sx={{ listStyle: "none", p: 0, m: 0 }}>
        {stops.map((stop) => (
          <Stack
            component="li"
            key={stop.id}
            direction="row"
            sx={{ gap: 1, py: 1, alignItems: "center", flexWrap: "wrap" }}
          >
            <Box aria-hidden sx={{ width: 20 }}>
              {stop.is_left ? "–" : stop.is_over ? "✓" : "○"}
            </Box>
            <Box sx={{ flex: "1 1 200px", minWidth: 0 }}>
              <strong>{stop.name}</strong>, {stop.what} · {stop.home}
              <Typography variant="body2" color="textSecondary">
                {stop.state}
              </Typography>
            </Box>
            {stop.clean_id && (
              <Button component={Link} to={`/cleans/${stop.clean_id}`}>
                Its clean
              </Button>
            )}
          </Stack>
        ))}
      </Box>
    </Paper>
  );
}
