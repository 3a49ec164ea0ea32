import { Button, Paper, Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { type Schemas, send, useChange } from "../api/client";
import { newId } from "../api/newId";
import { LogTable } from "../log/LogPage";
import { DayField } from "../ui/DayField";
import { ErrorNotice } from "../ui/Notices";
import { Journal } from "./Journal";

/** What was done to it, and what happened between. */
export function HistoryView({ id, brewer }: { id: string; brewer: Schemas["BrewerView"] }) {
  const { card, journal, log, today } = brewer;
  return (
    <>
      <Journal id={id} today={today} circuits={card.circuits} lines={journal} log={log} />
      <Typography variant="h2">What was done</Typography>
      <LogTable lines={log} />
      <TellClean id={id} today={today} />
    </>
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
          <DayField label="Day" value={draft.day} onChange={(day) => setDraft({ ...draft, day })} />
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
