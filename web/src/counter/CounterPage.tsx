import {
  Box,
  Button,
  Chip,
  InputAdornment,
  MenuItem,
  Pagination,
  Paper,
  Stack,
  TextField,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { lazy, useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { queries } from "../api/queries";
import { Noticed } from "../brewer/Noticed";
import { Bore } from "../pictures/Bore";
import { ComingWeeks } from "../pictures/ComingWeeks";
import { Cards } from "../ui/Cards";
import { Page, Ready } from "../ui/Notices";
import { Upkeep } from "../ui/Upkeep";
import { useDayAndTime } from "../ui/useClock";
import { Away } from "../upkeep/Away";
import { TodoLine } from "./Todo";
import { byHome, pageOf, type Todo, today as todayOf } from "./today";

const FirstMinute = lazy(() => import("../first/FirstMinute").then((m) => ({ default: m.FirstMinute })));

const words: Record<Schemas["Urgency"], { text: string; color: "error" | "warning" | "primary" | "success" }> = {
  overdue: { text: "Overdue", color: "error" },
  due: { text: "Due now", color: "warning" },
  soon: { text: "Due soon", color: "primary" },
  fresh: { text: "Not due yet", color: "success" },
};

/** So many cards are drawn at once. */
const size = 12;

/** A visit that runs, or is planned for today. */
function VisitLine({ visit }: { visit: Schemas["VisitBrief"] }) {
  const say = useDayAndTime();
  const runs = visit.stage === "running";
  return (
    <Paper
      component="section"
      aria-label="Visit"
      sx={{
        p: 2,
        display: "flex",
        gap: 1,
        flexWrap: "wrap",
        alignItems: "center",
        borderColor: runs ? "primary.main" : "divider",
      }}
    >
      <Typography sx={{ flexGrow: 1 }}>
        <strong>{runs ? "A visit is under way" : `Visit, ${say(visit.day, visit.from)}`}</strong>: {visit.homes} ·{" "}
        {visit.text}
      </Typography>
      <Button component={Link} to={`/visits/${visit.id}`} variant="contained">
        {runs ? "Carry on with the visit" : "Open the visit"}
      </Button>
    </Paper>
  );
}

export function CounterPage() {
  const counter = useQuery(queries.counter());
  const household = useQuery(queries.household());
  const [search, setSearch] = useState("");
  const [home, setHome] = useState("");
  const [urgency, setUrgency] = useState<Schemas["Urgency"] | "">("");
  const [page, setPage] = useState(0);
  // The empty Counter is the first question itself.
  if (counter.data?.brewers.length === 0) return <FirstMinute empty />;
  return (
    <Page
      title="Counter"
      aside={
        <Stack direction="row" spacing={1}>
          <Button component={Link} to="/trouble" variant="outlined">
            What is wrong?
          </Button>
          <Button component={Link} to="/brewers/new" variant="outlined">
            Add a brewer
          </Button>
        </Stack>
      }
    >
      <Ready query={counter}>
        {({ brewers, inside, today, now, visits, weeks }) => {
          const wanted = search.trim().toLowerCase();
          const shown = brewers.filter(
            (b) =>
              (home === "" || b.home === home) &&
              (urgency === "" || b.urgency === urgency) &&
              `${b.nickname} ${b.home} ${b.water}`.toLowerCase().includes(wanted),
          );
          const pages = Math.ceil(shown.length / size);
          const at = Math.min(page, Math.max(0, pages - 1));
          const groups = pageOf(byHome(shown), at, size);
          const homeOf = (name: string) => household.data?.homes.find((h) => h.name === name)?.id;
          const homes = new Set(brewers.map((b) => b.home)).size;
          return (
            <Stack spacing={2}>
              {visits.map((visit) => (
                <VisitLine key={visit.id} visit={visit} />
              ))}
              <Today todos={todayOf(shown, inside)} today={today} ahead={Date.parse(now) - counter.dataUpdatedAt} />
              <ComingWeeks weeks={weeks} />
              {brewers.length > 4 && (
                <Find
                  found={shown.length}
                  search={search}
                  home={home}
                  urgency={urgency}
                  homes={household.data?.homes ?? []}
                  onChange={(change) => {
                    if (change.search !== undefined) setSearch(change.search);
                    if (change.home !== undefined) setHome(change.home);
                    if (change.urgency !== undefined) setUrgency(change.urgency);
                    setPage(0);
                  }}
                />
              )}
              {groups.map(([name, cards]) => (
                <Box component="section" key={name} aria-label={name}>
                  <Stack direction="row" sx={{ mb: 1, gap: 1, alignItems: "baseline" }}>
                    {homes > 1 && (
                      <Typography variant="h3" component="h2" sx={{ overflowWrap: "anywhere" }}>
                        {name}
                      </Typography>
                    )}
                    {homeOf(name) && <Away home={homeOf(name) ?? ""} name={name} today={today} />}
                  </Stack>
                  <Cards>
                    {cards.map((b) => (
                      <BrewerCard key={b.id} brewer={b} today={today} />
                    ))}
                  </Cards>
                </Box>
              ))}
              {pages > 1 && (
                <Pagination
                  count={pages}
                  page={at + 1}
                  onChange={(_, next) => setPage(next - 1)}
                  getItemAriaLabel={(kind, n) => (kind === "page" ? `Page ${n} of the brewers` : `${kind} page`)}
                  sx={{ "& button": { minWidth: 44, minHeight: 44 } }}
                />
              )}
              {shown.length === 0 && (
                <Typography>
                  No brewer here fits that. Clear the search and choices to see all {brewers.length}.
                </Typography>
              )}
            </Stack>
          );
        }}
      </Ready>
    </Page>
  );
}

/** What wants to be done today, ticked off or started here. */
function Today({ todos, today, ahead }: { todos: Todo[]; today: string; ahead: number }) {
  const [all, setAll] = useState(false);
  const shown = todos.slice(0, all ? 40 : 6);
  return (
    <Paper component="section" aria-label="Today" sx={{ p: 2 }}>
      <Typography variant="h2">{todos.length === 0 ? "Nothing to do today." : "Today"}</Typography>
      <Stack component="ul" sx={{ listStyle: "none", p: 0, m: 0, mt: todos.length === 0 ? 0 : 1 }}>
        {shown.map((todo) => (
          <TodoLine key={keyOf(todo)} todo={todo} today={today} ahead={ahead} />
        ))}
      </Stack>
      {todos.length > shown.length && !all && (
        <Button onClick={() => setAll(true)}>Show {Math.min(todos.length, 40) - shown.length} more</Button>
      )}
      {all && todos.length > 40 && (
        <Typography>{todos.length - 40} more: choose a home below to see its own.</Typography>
      )}
    </Paper>
  );
}

const keyOf = (todo: Todo) => (todo.kind === "works" ? `works ${todo.home}` : keyOfOne(todo));

const keyOfOne = (todo: Exclude<Todo, { kind: "works" }>) =>
  `${todo.kind} ${todo.card.id} ${todo.kind === "job" ? todo.job.job : todo.kind === "running" ? todo.inside.clean_id : todo.kind === "look" ? todo.circuit.circuit_id : ""}`;

/** Finds brewers by name, home and urgency. */
function Find({
  found,
  search,
  home,
  urgency,
  homes,
  onChange,
}: {
  found: number;
  search: string;
  home: string;
  urgency: Schemas["Urgency"] | "";
  homes: Schemas["Home"][];
  onChange: (change: { search?: string; home?: string; urgency?: Schemas["Urgency"] | "" }) => void;
}) {
  return (
    <Stack direction={{ xs: "column", sm: "row" }} spacing={1}>
      <TextField
        label="Find a brewer"
        value={search}
        onChange={(e) => onChange({ search: e.target.value })}
        slotProps={{ input: { endAdornment: <InputAdornment position="end">{found}</InputAdornment> } }}
      />
      <Stack direction="row" spacing={1}>
        <TextField
          select
          label="Home"
          value={home}
          onChange={(e) => onChange({ home: e.target.value })}
          sx={{ minWidth: { sm: 190 } }}
          slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
        >
          <MenuItem value="">All homes</MenuItem>
          {homes.map((h) => (
            <MenuItem key={h.id} value={h.name}>
              {h.name}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          label="How urgent"
          value={urgency}
          onChange={(e) => onChange({ urgency: e.target.value as Schemas["Urgency"] | "" })}
          sx={{ minWidth: { sm: 150 } }}
          slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
        >
          <MenuItem value="">All</MenuItem>
          {Object.entries(words).map(([id, { text }]) => (
            <MenuItem key={id} value={id}>
              {text}
            </MenuItem>
          ))}
        </TextField>
      </Stack>
    </Stack>
  );
}

function BrewerCard({ brewer, today }: { brewer: Schemas["BrewerCard"]; today: string }) {
  const circuit = brewer.circuits.find((c) => c.circuit_id === brewer.first_due);
  if (!circuit) return null;
  const { forecast } = circuit;
  const state = brewer.running_clean ? { text: "Clean is running", color: "primary" as const } : words[brewer.urgency];
  return (
    <Paper component="li" sx={{ p: 2, display: "flex", flexWrap: "wrap", gap: 2, alignItems: "flex-start" }}>
      <Stack spacing={0.5} sx={{ alignItems: "center" }}>
        {brewer.circuits.map((c) => (
          <Stack key={c.circuit_id} sx={{ alignItems: "center" }}>
            <Bore chalk={c.forecast.chalk} size={brewer.circuits.length > 1 ? 76 : 96} />
            {brewer.circuits.length > 1 && <Typography variant="body2">{c.name}</Typography>}
          </Stack>
        ))}
      </Stack>
      <Stack spacing={0.5} sx={{ minWidth: 0, flex: "1 1 160px" }}>
        <Stack direction="row" sx={{ gap: 1, alignItems: "center", flexWrap: "wrap" }}>
          <Typography variant="h2" sx={{ overflowWrap: "anywhere" }}>
            <Link to={`/brewers/${brewer.id}`} style={{ color: "inherit" }}>
              {brewer.nickname}
            </Link>
          </Typography>
          <Chip size="small" variant="outlined" label={state.text} color={state.color} />
        </Stack>
        {brewer.circuits.map(
          ({ acid, circuit_id }) =>
            acid && (
              <Typography key={circuit_id} sx={{ fontWeight: 700 }}>
                {acid.text} <Link to={`/cleans/${acid.clean_id}`}>What to do</Link>
              </Typography>
            ),
        )}
        <Typography color="textSecondary" variant="body2">
          {brewer.home} · {brewer.family}
        </Typography>
        <Typography>
          <strong>
            {brewer.circuits.length > 1 && `${circuit.name[0]?.toUpperCase()}${circuit.name.slice(1)}: `}
            {brewer.circuits.length > 1 ? "descale" : "Descale"} {forecast.due.text}
          </strong>
        </Typography>
        <Typography variant="body2">
          {forecast.reason}
          {forecast.due.by !== "chalk" && `; ${forecast.due.chalk_text}`}
        </Typography>
        {forecast.sharpen && !brewer.running_clean && (
          <Typography variant="body2" color="textSecondary">
            {forecast.sharpen.text}{" "}
            {forecast.sharpen.told_in === "journal" && (
              <Link to={`/brewers/${brewer.id}/history`} style={{ color: "inherit" }}>
                Write it down
              </Link>
            )}
            {forecast.sharpen.told_in === "water" && (
              <Link to="/waters" style={{ color: "inherit" }}>
                To its water
              </Link>
            )}
          </Typography>
        )}
        <Upkeep jobs={brewer.upkeep.filter(({ job }) => job === "filter" || job === "needles")} />
        <Box>
          {brewer.running_clean ? (
            <Button component={Link} to={`/cleans/${brewer.running_clean}`} variant="contained">
              Carry on with the clean
            </Button>
          ) : (
            <Button
              component={Link}
              to={`/brewers/${brewer.id}/plan`}
              variant={brewer.urgency === "fresh" ? "text" : "contained"}
            >
              Plan the clean
            </Button>
          )}
          {!brewer.running_clean && !circuit.acid && (
            <Button component={Link} to={`/brewers/${brewer.id}/begun`}>
              Begun already
            </Button>
          )}
          {!brewer.running_clean && (
            <Noticed
              id={brewer.id}
              circuit={circuit.circuit_id}
              today={today}
              needles={brewer.upkeep.some((u) => u.job === "needles")}
            />
          )}
        </Box>
      </Stack>
    </Paper>
  );
}
