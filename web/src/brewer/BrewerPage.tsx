import { Button, Paper, Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { type Schemas, send, useBrewer, useChange, useHousehold } from "../api/client";
import { LogTable } from "../log/LogPage";
import { Bore } from "../pictures/Bore";
import { ErrorNotice, Page, Ready } from "../ui/Notices";
import { useUndo } from "../ui/Undo";
import { Working } from "../ui/Working";

export function BrewerPage() {
  const id = useParams().id ?? "";
  const query = useBrewer(id);
  const navigate = useNavigate();
  const offerUndo = useUndo();
  const restore = useChange(() => send.restoreBrewer(id));
  const remove = useChange(() => send.deleteBrewer(id));
  return (
    <Ready query={query}>
      {({ card, log }) => (
        <Page
          title={card.nickname}
          aside={
            <Stack direction="row" spacing={1} sx={{ flexWrap: "wrap" }}>
              <Button component={Link} to={`/brewers/${id}/edit`} variant="outlined">
                Edit
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
          {card.circuits.map((circuit) => (
            <Paper key={circuit.circuit_id} sx={{ p: { xs: 2, md: 3 } }}>
              <Stack direction={{ xs: "column", sm: "row" }} spacing={3} sx={{ alignItems: { sm: "center" } }}>
                <Bore chalk={circuit.forecast.chalk} size={190} />
                <Stack spacing={1}>
                  <Typography variant="h2">Descale {circuit.forecast.due.text}</Typography>
                  <Typography>
                    Chalk (scale) on the {circuit.name}: {circuit.forecast.chalk.text}.
                  </Typography>
                  <Typography>{circuit.forecast.reason}.</Typography>
                  <Typography variant="body2" color="textSecondary">
                    The pale rim is chalk; blue is what is still open. The washed-out edge shows how far the estimate
                    may be off.
                  </Typography>
                  <Stack direction="row" spacing={1}>
                    {card.running_clean ? (
                      <Button component={Link} to={`/cleans/${card.running_clean}`} variant="contained" size="large">
                        Carry on with the clean
                      </Button>
                    ) : (
                      <Button component={Link} to={`/brewers/${id}/plan`} variant="contained" size="large">
                        Plan the clean
                      </Button>
                    )}
                  </Stack>
                </Stack>
              </Stack>
              <Working working={circuit.forecast.working} />
            </Paper>
          ))}
          <Typography variant="h2">What was done</Typography>
          <LogTable lines={log} />
          <TellClean id={id} />
          <ErrorNotice error={remove.error ?? restore.error} />
        </Page>
      )}
    </Ready>
  );
}

/** Tells of a clean that Murlo did not guide, so that the count starts there. */
function TellClean({ id }: { id: string }) {
  const household = useHousehold();
  const [draft, setDraft] = useState<Schemas["PastCleanDraft"] | null>(null);
  const tell = useChange((body: Schemas["PastCleanDraft"]) => send.pastClean(id, body));
  if (!draft) {
    return (
      <Stack direction="row">
        <Button onClick={() => setDraft({ day: household.data?.today ?? "", note: "" })}>
          I cleaned it without Murlo
        </Button>
      </Stack>
    );
  }
  return (
    <Paper sx={{ p: 2 }}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          tell.mutate(draft, { onSuccess: () => setDraft(null) });
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
