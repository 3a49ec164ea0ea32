import { Box, Button, Pagination, Paper, Stack, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { queries } from "../api/queries";
import { Lanes } from "../pictures/Lanes";
import { Page, Ready } from "../ui/Notices";
import { dayText, useDayAndTime } from "../ui/useClock";
import { CalendarFeed } from "./CalendarFeed";
import { HomeSheet, NewHome } from "./HomeSheet";
import { ThisWeek } from "./ThisWeek";

/** So many lanes are drawn at once. */
const size = 15;

export function RoundPage() {
  const round = useQuery(queries.round());
  const [home, setHome] = useState<string>();
  return (
    <Page
      title="Round"
      aside={
        <Stack direction="row" spacing={1}>
          <Button component={Link} to="/round/owed" variant="outlined">
            Who owes what
          </Button>
          <Button component={Link} to="/visits/new" variant="contained">
            Plan a visit
          </Button>
        </Stack>
      }
    >
      <Ready query={round}>
        {(view) => (
          <Stack spacing={2}>
            <ThisWeek />
            <Visits visits={view.visits} moved={view.moved} />
            <Weeks lanes={view.lanes} open={setHome} />
            <CalendarFeed feed={view.feed ?? undefined} />
            {home !== undefined && <HomeSheet key={home} id={home} close={() => setHome(undefined)} />}
          </Stack>
        )}
      </Ready>
    </Page>
  );
}

function Visits({ visits, moved }: { visits: Schemas["VisitBrief"][]; moved: Schemas["MovedView"][] }) {
  const [all, setAll] = useState(false);
  const over = visits.filter((visit) => visit.stage === "closed");
  // What this week shows is not shown twice.
  const week = useQuery(queries.week("")).data;
  const shown = new Set(week?.rows.flatMap((row) => row.blocks.map((block) => block.id)));
  const ahead = visits.filter((visit) => visit.stage !== "closed" && !shown.has(visit.id));
  if (visits.length > 0 && ahead.length + over.length + moved.length === 0) return null;
  return (
    <Paper component="section" aria-label="Visits" sx={{ p: 2 }}>
      <Typography variant="h2">{visits.length === 0 ? "Visits" : "Other visits"}</Typography>
      {visits.length === 0 && (
        <Typography sx={{ mt: 1 }}>
          None is planned. Murlo proposes what is due, puts it in order for one pair of hands, and lists what to carry.
        </Typography>
      )}
      {moved.length > 0 && <Moved moved={moved} />}
      <Box component="ul" sx={{ listStyle: "none", p: 0, m: 0 }}>
        {[...ahead, ...(all ? over : [])].map((visit) => (
          <Line key={visit.id} visit={visit} />
        ))}
      </Box>
      {over.length > 0 && (
        <Button onClick={() => setAll(!all)} aria-expanded={all}>
          {all ? "Fold the last visits" : `Show the last ${over.length === 1 ? "visit" : `${over.length} visits`}`}
        </Button>
      )}
    </Paper>
  );
}

/** What a visit moved to another day and no visit has taken up yet. */
function Moved({ moved }: { moved: Schemas["MovedView"][] }) {
  return (
    <Box component="section" aria-label="Moved, not planned yet" sx={{ mt: 1 }}>
      <Typography variant="h3">Moved, not planned yet</Typography>
      <Box component="ul" sx={{ listStyle: "none", p: 0, m: 0 }}>
        {moved.map((one) => (
          <Stack
            component="li"
            key={`${one.home_id} ${one.name} ${one.day}`}
            direction="row"
            sx={{ alignItems: "center", gap: 1, py: 0.5, flexWrap: "wrap" }}
          >
            <Typography sx={{ flex: "1 1 220px", minWidth: 0, overflowWrap: "anywhere" }}>
              <strong>{dayText(one.day)}</strong> · {one.name} · {one.home}
            </Typography>
            <Button component={Link} to={`/visits/new?home=${one.home_id}&day=${one.day}`} sx={{ minHeight: 44 }}>
              Plan it
            </Button>
          </Stack>
        ))}
      </Box>
    </Box>
  );
}

const acts = { planned: "Open", running: "Carry on", closed: "Look" } as const;

function Line({ visit }: { visit: Schemas["VisitBrief"] }) {
  const say = useDayAndTime();
  return (
    <Stack
      component="li"
      direction="row"
      sx={{ alignItems: "center", gap: 1, py: 1, borderTop: 1, borderColor: "divider", flexWrap: "wrap" }}
    >
      <Box sx={{ flexGrow: 1, minWidth: 220 }}>
        <Typography>
          <strong>{say(visit.day, visit.from)}</strong> · {visit.homes}
        </Typography>
        <Typography variant="body2" color="textSecondary">
          {visit.text}
          {visit.stage === "running" && ", under way"}
          {visit.stage === "closed" && ", over"}
        </Typography>
      </Box>
      <Button
        component={Link}
        to={`/visits/${visit.id}`}
        variant={visit.stage === "closed" ? "text" : "contained"}
        aria-label={`${acts[visit.stage]}: ${say(visit.day, visit.from)}`}
      >
        {acts[visit.stage]}
      </Button>
    </Stack>
  );
}

function Weeks({ lanes, open }: { lanes: Schemas["Lanes"]; open: (home: string) => void }) {
  const [search, setSearch] = useState("");
  const [page, setPage] = useState(0);
  const wanted = search.trim().toLowerCase();
  const found = lanes.lanes.filter((lane) => lane.name.toLowerCase().includes(wanted));
  const pages = Math.ceil(found.length / size);
  const at = Math.min(page, Math.max(0, pages - 1));
  const shown = { ...lanes, lanes: found.slice(at * size, (at + 1) * size) };
  return (
    <Paper component="section" aria-label="The weeks ahead" sx={{ p: 2 }}>
      <Stack direction="row" sx={{ justifyContent: "space-between", gap: 2, flexWrap: "wrap", mb: 1 }}>
        <Typography variant="h2">The weeks ahead</Typography>
        {lanes.lanes.length > 8 && (
          <TextField
            label="Find a home"
            value={search}
            onChange={(e) => {
              setSearch(e.target.value);
              setPage(0);
            }}
            sx={{ maxWidth: 280 }}
          />
        )}
        <NewHome opened={open} />
      </Stack>
      {found.length === 0 ? <Typography>No home is called so.</Typography> : <Lanes lanes={shown} open={open} />}
      <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
        Bands: between which days a brewer likely falls due, with the likely day. Dots: small works, filled when due.
        Flags: visits. Hatched: away. Line below: no guests.
      </Typography>
      {pages > 1 && (
        <Pagination
          count={pages}
          page={at + 1}
          onChange={(_, next) => setPage(next - 1)}
          getItemAriaLabel={(kind, n) => (kind === "page" ? `Page ${n} of the homes` : `${kind} page`)}
          sx={{ mt: 1, "& button": { minWidth: 44, minHeight: 44 } }}
        />
      )}
    </Paper>
  );
}
