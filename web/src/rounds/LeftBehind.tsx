import { Alert, Box, Button, Checkbox, FormControlLabel, Stack, Typography } from "@mui/material";
import { type Schemas, send, useChange } from "../api/client";
import { newId } from "../api/newId";
import { DayField } from "../ui/DayField";
import { ErrorNotice } from "../ui/Notices";

/** What is said of something that is not done when a visit is closed. */
export interface Said {
  /** The day it is moved to; empty where it is only left. */
  day: string;
  /** It is left with a bath inside, or not rinsed. */
  inside: boolean;
}

export const nothingSaid: Said = { day: "", inside: false };

/** What a visit would leave open: each is left, moved to a day, or first rinsed out. */
export function LeftBehind({
  stops,
  inside,
  said,
  say,
  goTo,
}: {
  stops: Schemas["StopView"][];
  inside: Schemas["UnrinsedView"][];
  said: (id: string) => Said;
  say: (id: string, said: Said) => void;
  goTo: (id: string) => void;
}) {
  if (stops.length === 0) return null;
  return (
    <Box component="section" aria-label="Not done">
      <Typography variant="h3">Not done</Typography>
      <Typography color="textSecondary">Give a day and it is proposed then; without one it is left.</Typography>
      <Box component="ul" sx={{ listStyle: "none", p: 0, m: 0 }}>
        {stops.map((stop) => {
          const unrinsed = inside.find((one) => one.id === stop.id);
          return (
            <Stack
              component="li"
              key={stop.id}
              direction="row"
              sx={{ gap: 1, py: 1, borderTop: 1, borderColor: "divider", alignItems: "center", flexWrap: "wrap" }}
            >
              <Box sx={{ flex: "1 1 220px", minWidth: 0, overflowWrap: "anywhere" }}>
                <strong>{stop.name}</strong>, {stop.what} · {stop.home}
              </Box>
              {unrinsed ? (
                <Unrinsed
                  unrinsed={unrinsed}
                  isMeant={said(stop.id).inside}
                  mean={(isMeant) => say(stop.id, { ...said(stop.id), inside: isMeant })}
                  goTo={() => goTo(stop.id)}
                />
              ) : (
                <DayField
                  label="Move it to"
                  value={said(stop.id).day}
                  onChange={(day) => say(stop.id, { ...said(stop.id), day })}
                />
              )}
            </Stack>
          );
        })}
      </Box>
    </Box>
  );
}

/** A bath inside, or acid that is not rinsed out: the short way out, or that it is meant. */
function Unrinsed({
  unrinsed,
  isMeant,
  mean,
  goTo,
}: {
  unrinsed: Schemas["UnrinsedView"];
  isMeant: boolean;
  mean: (isMeant: boolean) => void;
  goTo: () => void;
}) {
  return (
    <Alert severity="warning" variant="outlined" sx={{ width: "100%" }}>
      <Typography>
        {unrinsed.is_bath ? "A bath is inside." : "It is not rinsed yet."} Nobody may drink from it, and whoever comes
        next does not know.
      </Typography>
      <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap", mt: 1 }}>
        <RinseOut unrinsed={unrinsed} label={`Rinse it out now, about ${unrinsed.takes}`} then={goTo} />
        <FormControlLabel
          sx={{ minHeight: 48 }}
          control={<Checkbox checked={isMeant} onChange={(e) => mean(e.target.checked)} />}
          label="Leave it so: the note stays on, and it stays marked"
        />
      </Stack>
    </Alert>
  );
}

/** The short way out of a bath: it is rinsed, and nothing more is run. */
export function RinseOut({
  unrinsed,
  label,
  then,
}: {
  unrinsed: Schemas["UnrinsedView"];
  label: string;
  then: () => void;
}) {
  const rinse = useChange(() =>
    send.act(unrinsed.clean_id, { id: newId(), act: { kind: "planned", wish: { kind: "rinse" } } }),
  );
  return (
    <>
      <Button
        variant="contained"
        disabled={rinse.isPending}
        sx={{ minHeight: 48 }}
        onClick={() => rinse.mutate(undefined, { onSuccess: then })}
      >
        {label}
      </Button>
      <ErrorNotice error={rinse.error} />
    </>
  );
}
