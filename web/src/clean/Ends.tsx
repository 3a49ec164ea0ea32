import { Box, Button, List, ListItem, Paper, Stack, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { photoAt, type Schemas } from "../api/client";
import { queries } from "../api/queries";
import { GlassRow } from "../pictures/GlassRow";
import { FirstCoffee } from "../ui/FirstCoffee";
import { KeepAsWay } from "../ways/KeepAsWay";
import { Clock } from "./Clock";
import { lightEntry } from "./DayTold";
import { KeepHealthy } from "./KeepHealthy";

type View = Schemas["CleanView"];

/** The note for whoever comes by. */
export function Stopped({ clean, ahead }: { clean: View; ahead: number }) {
  const { plan, state } = clean;
  const timer = state.current == null ? undefined : state.steps[state.current]?.timer;
  return (
    <Paper
      component="section"
      aria-label="Note for the brewer"
      sx={{ p: { xs: 2.5, md: 4 }, borderWidth: 3, borderColor: state.inside === "water" ? "divider" : "warning.main" }}
    >
      <Typography variant="h1" gutterBottom>
        Stopped for now
      </Typography>
      <Typography
        sx={{
          fontSize: { xs: "1.7rem", md: "2.4rem" },
          fontWeight: 700,
          lineHeight: 1.2,
          // On paper it is read from across the kitchen.
          "@media print": { fontSize: "5rem" },
        }}
      >
        {state.inside_text}
      </Typography>
      <Typography sx={{ my: 2, fontSize: "1.2rem" }}>
        {plan.nickname} is being cleaned. Whoever comes by: leave it as it is.
      </Typography>
      {state.step && (
        <Typography sx={{ fontSize: "1.2rem" }}>
          It goes on exactly here, on any device: <strong>{state.step.title}</strong>
          {state.current != null && `, step ${state.current + 1} of ${plan.steps.length}`}.
        </Typography>
      )}
      {timer && (
        <Box className="screen-only" sx={{ mt: 2 }}>
          <Clock timer={timer} ahead={ahead} late={state.late_text} forgotten={state.forgotten} />
        </Box>
      )}
      <Button variant="outlined" sx={{ mt: 2, minHeight: 56 }} className="screen-only" onClick={() => window.print()}>
        Print this note
      </Button>
    </Paper>
  );
}

/** What it came to, and what was learned. */
export function Closed({ clean, act }: { clean: View; act: (what: Schemas["Act"]) => void }) {
  const { outcome, closed } = clean.state;
  const brewer = useQuery(queries.brewer(clean.plan.brewer_id)).data;
  const card = brewer?.card;
  const circuits = card?.circuits ?? [];
  const work = card?.upkeep.find(({ job }) => job === clean.plan.job);
  const ways = brewer?.ways;
  const lessons = circuits
    .flatMap((c) => c.forecast.lessons)
    .filter((l) => [`shown-${clean.id}`, lightEntry(clean.id)].includes(l.entry_id));
  return (
    <Paper sx={{ p: 4 }}>
      <Typography variant="h1" gutterBottom>
        {clean.state.acid_left
          ? "Ended with acid inside"
          : closed !== "finished"
            ? "Given up"
            : clean.plan.work === "rehearsal"
              ? "Rehearsal over"
              : "Done and logged"}
      </Typography>
      {clean.state.acid_left && <AcidLeft clean={clean} act={act} />}
      {outcome && <Typography sx={{ fontSize: "1.2rem" }}>{clean.state.outcome_text}.</Typography>}
      {outcome && (outcome.checks ?? []).concat(outcome.overrules ?? []).length > 0 && (
        <List dense aria-label="What was looked at">
          {(outcome.checks ?? []).concat(outcome.overrules ?? []).map((line) => (
            <ListItem key={line} disableGutters>
              {line}
            </ListItem>
          ))}
        </List>
      )}
      {outcome?.needles && outcome.work === "descale" && (
        <Typography sx={{ mt: 1 }}>Needles: {outcome.needles}.</Typography>
      )}
      {outcome && work && (
        <Typography sx={{ mt: 1 }}>
          {work.text}, {work.every}.
        </Typography>
      )}
      {outcome && clean.plan.job === "slime" && (
        <Button
          component={Link}
          to={`/brewers/${clean.plan.brewer_id}/plan?against=dirt`}
          variant="outlined"
          sx={{ mt: 2, minHeight: 56 }}
          className="screen-only"
        >
          Plan a clean for dirt
        </Button>
      )}
      {outcome?.work === "rehearsal" && (
        <Typography sx={{ mt: 1 }}>It stays out of the history; the due date is as it was.</Typography>
      )}
      {clean.plan.because && <Typography sx={{ mt: 1 }}>It began with: {clean.plan.because.text}.</Typography>}
      {outcome && (outcome.glasses ?? []).length > 0 && (
        <Box sx={{ mt: 2 }}>
          <GlassRow glasses={outcome.glasses ?? []} photoAt={photoAt} />
        </Box>
      )}
      {lessons.map((lesson) => (
        <Typography key={lesson.entry_id} sx={{ mt: 1 }}>
          <strong>What was learned:</strong> {lesson.text}.
        </Typography>
      ))}
      {outcome?.work === "descale" && (closed === "finished" || clean.state.acid_left) && (
        <Button
          component={Link}
          to={`/cleans/${clean.id}/card`}
          variant="outlined"
          sx={{ mt: 2 }}
          className="screen-only"
        >
          Card to leave, or a label
        </Button>
      )}
      {card?.first_coffee?.clean_id === clean.id && brewer && (
        <Paper component="section" aria-label="First coffee" className="screen-only" sx={{ p: 2, mt: 2 }}>
          <Typography sx={{ mb: 1 }}>
            The first coffee, when you have had it: how was it? It tells whether to rinse more next time.
          </Typography>
          <FirstCoffee brewer={clean.plan.brewer_id} coffee={card.first_coffee} today={brewer.today} />
        </Paper>
      )}
      {closed === "finished" && outcome?.work === "descale" && !clean.state.acid_left && ways && (
        <Box sx={{ mt: 2 }}>
          <KeepAsWay
            brewer={clean.plan.brewer_id}
            side={clean.plan.circuit_id}
            ways={ways}
            from={{ kind: "clean", clean_id: clean.id }}
          >
            Did it go well? Agent, amounts, soak, rinses and what you left out are kept, and the next plan is that.
          </KeepAsWay>
        </Box>
      )}
      {closed === "finished" && <KeepHealthy clean={clean} />}
      {closed === "abandoned" && !outcome?.rounds && <Typography>The due date stays as it was.</Typography>}
    </Paper>
  );
}

/** Ended with acid inside: the note stays on until it is rinsed, or somebody vouches for it by name. */
function AcidLeft({ clean, act }: { clean: View; act: (what: Schemas["Act"]) => void }) {
  const [by, setBy] = useState("");
  return (
    <Paper
      component="section"
      aria-label="Acid inside"
      sx={{ p: 2, my: 2, borderWidth: 3, borderColor: "warning.main" }}
    >
      <Typography
        sx={{ fontSize: { xs: "1.5rem", md: "2rem" }, fontWeight: 700, "@media print": { fontSize: "5rem" } }}
      >
        {clean.state.inside_text}
      </Typography>
      <Stack spacing={1.5} className="screen-only" sx={{ mt: 1, alignItems: "flex-start" }}>
        <Button
          variant="contained"
          size="large"
          sx={{ minHeight: 56 }}
          onClick={() => {
            act({ kind: "reopened" });
            act({ kind: "planned", wish: { kind: "rinse" } });
          }}
        >
          Rinse it out now
        </Button>
        <Typography>Or somebody has rinsed it otherwise and says so by name:</Typography>
        <Stack direction="row" spacing={1} component="form" onSubmit={(event) => event.preventDefault()}>
          <TextField label="Your name" value={by} onChange={(e) => setBy(e.target.value)} />
          <Button
            type="submit"
            variant="outlined"
            disabled={by.trim() === ""}
            sx={{ minHeight: 56 }}
            onClick={() => act({ kind: "vouched", by })}
          >
            It may be drunk from
          </Button>
        </Stack>
        <Button variant="outlined" onClick={() => window.print()}>
          Print this note
        </Button>
      </Stack>
    </Paper>
  );
}
