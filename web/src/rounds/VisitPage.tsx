import { Box, Button, Paper, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { type Schemas, send, useChange } from "../api/client";
import { newId } from "../api/newId";
import { queries } from "../api/queries";
import { ErrorNotice, Page, Ready } from "../ui/Notices";
import { useUndo } from "../ui/Undo";
import { useDayAndTime } from "../ui/useClock";
import { Worth } from "./CloseVisit";
import { PlanForm } from "./PlanVisit";
import { RunVisit } from "./RunVisit";
import { VisitPhotos } from "./VisitPhotos";

/** A visit, as far as it is: planned, run, over. */
export function VisitPage() {
  const id = useParams().id ?? "";
  const [following, setFollowing] = useState<string>();
  const visit = useQuery(queries.visit(id, following));
  return (
    <Ready query={visit}>
      {(view) => {
        if (view.stage === "planned") return <Planned view={view} />;
        if (view.stage === "closed") return <Over view={view} />;
        return <RunVisit view={view} at={view.at} following={following} follow={setFollowing} />;
      }}
    </Ready>
  );
}

function Planned({ view }: { view: Schemas["VisitView"] }) {
  const say = useDayAndTime();
  const navigate = useNavigate();
  const offerUndo = useUndo();
  const away = useChange(send.deleteVisit);
  const back = useChange(send.restoreVisit);
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
      <PlanForm visit={view.visit} homes={view.homes.map((home) => home.id)} isNew={false} />
    </Page>
  );
}

function Over({ view }: { view: Schemas["VisitView"] }) {
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
