import { Box, Button, Paper, Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { type Schemas, send, useBrewer, useChange } from "../api/client";
import { newId } from "../api/newId";
import { LogTable } from "../log/LogPage";
import { Bore } from "../pictures/Bore";
import { ChalkChart } from "../pictures/ChalkChart";
import { Cutaway } from "../pictures/Cutaway";
import { ErrorNotice, Page, Ready } from "../ui/Notices";
import { useUndo } from "../ui/Undo";
import { Upkeep } from "../ui/Upkeep";
import { Working } from "../ui/Working";
import { Counts, Journal, Lessons } from "./Journal";
import { Operating } from "./Operating";
import { WhatIf } from "./WhatIf";

export function BrewerPage() {
  const id = useParams().id ?? "";
  const query = useBrewer(id);
  const navigate = useNavigate();
  const offerUndo = useUndo();
  const restore = useChange(() => send.restoreBrewer(id));
  const remove = useChange(() => send.deleteBrewer(id));
  return (
    <Ready query={query}>
      {({ card, draft, needles, log, courses, counts, interval, journal, today }) => (
        <Page
          title={card.nickname}
          aside={
            <Stack direction="row" spacing={1} sx={{ flexWrap: "wrap" }}>
              <Button component={Link} to={`/trouble?brewer=${id}`} variant="outlined">
                What is wrong?
              </Button>
              <Button component={Link} to={`/brewers/${id}/edit`} variant="outlined">
                Edit
              </Button>
              <Button component={Link} to={`/brewers/new/sheet?like=${id}`} variant="outlined">
                Another like this one
              </Button>
              <Button
                variant="outlined"
                color="inherit"
                onClick={() =>
                  remove.mutate(undefined, {
                    onSuccess: () => {
                      offerUndo({ text: `${card.nickname} was put away`, undo: () => restore.mutate(undefined) });
                      navigate("/");
                    },
                  })
                }
              >
                Put away
              </Button>
            </Stack>
          }
        >
          <Typography color="textSecondary">
            {card.family} · {card.home} · {card.water}
          </Typography>
          {card.circuits.map((circuit, i) => (
            <Paper key={circuit.circuit_id} sx={{ p: { xs: 2, md: 3 } }}>
              <Stack direction={{ xs: "column", sm: "row" }} spacing={3} sx={{ alignItems: { sm: "center" } }}>
                <Bore chalk={circuit.forecast.chalk} size={190} />
                <Stack spacing={1} sx={{ flexGrow: 1 }}>
                  {circuit.acid && (
                    <Typography sx={{ fontSize: "1.2rem", fontWeight: 700 }}>
                      {circuit.acid.text} <Link to={`/cleans/${circuit.acid.clean_id}`}>What to do</Link>
                    </Typography>
                  )}
                  <Typography variant="h2">
                    {card.circuits.length > 1 && `${circuit.name[0]?.toUpperCase()}${circuit.name.slice(1)}: `}
                    {card.circuits.length > 1 ? "descale" : "Descale"} {circuit.forecast.due.text}
                  </Typography>
                  <Typography>
                    Chalk (scale) on the {circuit.name}: {circuit.forecast.chalk.text}.
                  </Typography>
                  <Typography>{circuit.forecast.reason}.</Typography>
                  <Typography>As things are, it asks for a clean {interval.text}.</Typography>
                  {i === 0 && <Upkeep jobs={card.upkeep} />}
                  <Stack direction="row" spacing={1}>
                    {circuit.running_clean ? (
                      <Button component={Link} to={`/cleans/${circuit.running_clean}`} variant="contained" size="large">
                        Carry on with the clean
                      </Button>
                    ) : (
                      <Button
                        component={Link}
                        to={
                          card.circuits.length > 1
                            ? `/brewers/${id}/plan?side=${circuit.circuit_id}`
                            : `/brewers/${id}/plan`
                        }
                        variant="contained"
                        size="large"
                      >
                        Plan the clean
                      </Button>
                    )}
                  </Stack>
                  <Typography variant="body2" color="textSecondary">
                    The pale rim is chalk; blue is what is still open. The washed-out edge shows how far the estimate
                    may be off.
                  </Typography>
                </Stack>
                {i === 0 && (
                  <Box sx={{ display: { xs: "none", lg: "block" }, width: 300, flexShrink: 0 }}>
                    <Cutaway family={card.family_id} filter={draft.filter} />
                  </Box>
                )}
              </Stack>
              {courses[i] && (
                <Box sx={{ mt: 2 }}>
                  <ChalkChart
                    course={courses[i]}
                    due={circuit.forecast.due}
                    signs={journal.flatMap(({ entry, text }) =>
                      entry.what.kind === "sign" && entry.what.circuit_id === circuit.circuit_id
                        ? [{ day: entry.day, text }]
                        : [],
                    )}
                  />
                </Box>
              )}
              <Lessons id={id} today={today} forecast={circuit.forecast} />
              {i === 0 && <Counts id={id} today={today} counts={counts} />}
              <Working working={circuit.forecast.working} />
            </Paper>
          ))}
          <Operating id={id} card={card} draft={draft} needles={needles} />
          <Journal id={id} today={today} circuits={card.circuits} lines={journal} log={log} />
          <WhatIf id={id} draft={draft} />
          <Typography variant="h2">What was done</Typography>
          <LogTable lines={log} />
          <TellClean id={id} today={today} />
          <ErrorNotice error={remove.error ?? restore.error} />
        </Page>
      )}
    </Ready>
  );
}

/** Tells of a clean that Murlo did not guide, so that the count starts there. */
function TellClean({ id, today }: { id: string; today: string }) {
  const [draft, setDraft] = useState<Schemas["PastCleanDraft"] | null>(null);
  const [past, setPast] = useState(newId);
  const tell = useChange((body: Schemas["PastCleanDraft"]) => send.pastClean(id, past, body));
  if (!draft) {
    return (
      <Stack direction="row">
        <Button onClick={() => setDraft({ day: today, note: "" })}>I cleaned it without Murlo</Button>
      </Stack>
    );
  }
  return (
    <Paper sx={{ p: 2 }}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          tell.mutate(draft, {
            onSuccess: () => {
              setDraft(null);
              setPast(newId());
            },
          });
        }}
      >
        <Stack direction={{ xs: "column", sm: "row" }} spacing={1}>
          <TextField
            label="Day"
            type="date"
            value={draft.day}
            onChange={(e) => setDraft({ ...draft, day: e.target.value })}
            sx={{ maxWidth: 200 }}
            slotProps={{ inputLabel: { shrink: true } }}
          />
          <TextField
            label="What was done"
            value={draft.note}
            onChange={(e) => setDraft({ ...draft, note: e.target.value })}
          />
          <Button type="submit" variant="contained" sx={{ flexShrink: 0 }}>
            Log it
          </Button>
        </Stack>
        <ErrorNotice error={tell.error} />
      </form>
    </Paper>
  );
}
