import { Box, Button, Chip, InputAdornment, MenuItem, Paper, Stack, TextField, Typography } from "@mui/material";
import { lazy, useState } from "react";
import { Link } from "react-router";
import { type Schemas, useCounter, useHousehold } from "../api/client";
import { Noticed } from "../brewer/Noticed";
import { Bore } from "../pictures/Bore";
import { Page, Ready } from "../ui/Notices";
import { Upkeep } from "../ui/Upkeep";

const FirstMinute = lazy(() => import("../first/FirstMinute").then((m) => ({ default: m.FirstMinute })));

const words: Record<Schemas["Urgency"], { text: string; color: "error" | "warning" | "primary" | "success" }> = {
  overdue: { text: "Overdue", color: "error" },
  due: { text: "Due now", color: "warning" },
  soon: { text: "Due soon", color: "primary" },
  fresh: { text: "Nothing to do", color: "success" },
};

export function CounterPage() {
  const counter = useCounter();
  const household = useHousehold();
  const [search, setSearch] = useState("");
  const [home, setHome] = useState("");
  const [urgency, setUrgency] = useState<Schemas["Urgency"] | "">("");
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
        {({ brewers, inside, today }) => {
          const homes = household.data?.homes ?? [];
          const wanted = search.trim().toLowerCase();
          const shown = brewers.filter(
            (b) =>
              (home === "" || b.home === home) &&
              (urgency === "" || b.urgency === urgency) &&
              `${b.nickname} ${b.home} ${b.water}`.toLowerCase().includes(wanted),
          );
          const waiting = brewers.filter(
            (b) => b.running_clean || b.urgency !== "fresh" || b.circuits.some((c) => c.acid),
          ).length;
          return (
            <Stack spacing={2}>
              <Typography variant="h2" component="p">
                {waiting === 0 ? "Nothing to do today." : `${waiting} of ${brewers.length} want something.`}
              </Typography>
              {brewers.length > 4 && (
                <Stack direction={{ xs: "column", sm: "row" }} spacing={1}>
                  <TextField
                    label="Find a brewer"
                    value={search}
                    onChange={(e) => setSearch(e.target.value)}
                    slotProps={{
                      input: { endAdornment: <InputAdornment position="end">{shown.length}</InputAdornment> },
                    }}
                  />
                  <Stack direction="row" spacing={1}>
                    <TextField
                      select
                      label="Home"
                      value={home}
                      onChange={(e) => setHome(e.target.value)}
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
                      onChange={(e) => setUrgency(e.target.value as Schemas["Urgency"] | "")}
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
              )}
              <Box
                component="ul"
                sx={{
                  listStyle: "none",
                  p: 0,
                  m: 0,
                  display: "grid",
                  gap: 1.5,
                  gridTemplateColumns: { xs: "1fr", lg: "1fr 1fr" },
                }}
              >
                {shown.map((b) => (
                  <BrewerCard
                    key={b.id}
                    brewer={b}
                    inside={inside.find((i) => i.clean_id === b.running_clean)}
                    today={today}
                  />
                ))}
              </Box>
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

function BrewerCard({
  brewer,
  inside,
  today,
}: {
  brewer: Schemas["BrewerCard"];
  inside: Schemas["InsideView"] | undefined;
  today: string;
}) {
  const circuit = brewer.circuits.find((c) => c.circuit_id === brewer.first_due);
  if (!circuit) return null;
  const { forecast } = circuit;
  const state = brewer.running_clean ? { text: "Clean is running", color: "primary" as const } : words[brewer.urgency];
  return (
    <Paper component="li" sx={{ p: 2, display: "flex", gap: 2, alignItems: "center" }}>
      <Stack spacing={0.5} sx={{ alignItems: "center" }}>
        {brewer.circuits.map((c) => (
          <Stack key={c.circuit_id} sx={{ alignItems: "center" }}>
            <Bore chalk={c.forecast.chalk} size={brewer.circuits.length > 1 ? 76 : 96} />
            {brewer.circuits.length > 1 && <Typography variant="body2">{c.name}</Typography>}
          </Stack>
        ))}
      </Stack>
      <Stack spacing={0.5} sx={{ minWidth: 0, flexGrow: 1 }}>
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
        {inside && (
          <Typography sx={{ fontWeight: 700 }}>{inside.paused ? `Stopped. ${inside.text}` : inside.text}</Typography>
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
        <Upkeep jobs={brewer.upkeep} />
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
