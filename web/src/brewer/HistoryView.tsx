import { Box, Button, Paper, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { FormProvider } from "react-hook-form";
import { type Schemas, send, useChange } from "../api/client";
import { newId } from "../api/newId";
import { queries } from "../api/queries";
import { LogTable } from "../log/LogTable";
import { Field, type Option } from "../ui/Field";
import { ErrorNotice } from "../ui/Notices";
import { Resumed } from "../ui/Resumed";
import { useUndo } from "../ui/Undo";
import { useSheet } from "../ui/useSheet";
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

type Draft = Schemas["PastCleanDraft"];
type Bath = Schemas["ToldBath"];
/** What is typed of a clean: without an agent nobody knows its baths. */
interface Told {
  day: string;
  note: string;
  bath: { agent_id: string | null; soak_minutes: number | null; baths: number };
}

const soaks: Option[] = [
  [null, "Don’t know"],
  [0, "Not at all"],
  [10, "About 10 minutes"],
  [20, "About 20 minutes"],
  [40, "About 40 minutes"],
  [60, "An hour"],
  [480, "Overnight"],
];

const draftOf = ({ day, note, bath }: Told): Draft => ({
  day,
  note,
  bath: bath.agent_id ? (bath as Bath) : null,
});

/** Tells of a clean that Murlo did not guide, so that the count starts there. */
function TellClean({ id, today }: { id: string; today: string }) {
  const [open, setOpen] = useState(false);
  if (open) return <ToldSheet id={id} today={today} close={() => setOpen(false)} />;
  return (
    <Stack direction="row">
      <Button onClick={() => setOpen(true)}>I cleaned it without Murlo</Button>
    </Stack>
  );
}

function ToldSheet({ id, today, close }: { id: string; today: string; close: () => void }) {
  const agents = useQuery(queries.household()).data?.agents ?? [];
  const offerUndo = useUndo();
  const away = useChange(send.deletePast);
  const back = useChange(send.restorePast);
  const sheet = useSheet<Told, Schemas["PastClean"]>({
    key: `told-${id}`,
    first: { day: today, note: "", bath: { agent_id: null, soak_minutes: null, baths: 1 } },
    save: (told) => send.pastClean(id, newId(), draftOf(told)),
    onSaved: (past) => {
      offerUndo({
        text: "Written down",
        undo: () =>
          away.mutate(past.id, {
            onSuccess: () => offerUndo({ text: "Taken back", undo: () => back.mutate(past.id) }),
          }),
      });
      close();
    },
  });
  const { agent_id } = sheet.form.watch("bath");
  return (
    <FormProvider {...sheet.form}>
      <Paper component="form" aria-label="A clean without Murlo" onSubmit={sheet.submit} sx={{ p: 2 }}>
        <Stack spacing={2}>
          <Resumed sheet={sheet} />
          <Box
            sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr", sm: "240px 1fr" }, alignItems: "start" }}
          >
            <Field<Told> as="day" name="day" label="Day" />
            <Field<Told>
              as="choice"
              name="bath.agent_id"
              label="With"
              options={[[null, "Don’t know"], ...agents.map((agent): Option => [agent.id, agent.name])]}
            />
            {agent_id && (
              <>
                <Field<Told>
                  as="choice"
                  name="bath.soak_minutes"
                  label="How long it stood inside"
                  help="A programme stands by itself"
                  options={soaks}
                />
                <Field<Told>
                  as="choice"
                  name="bath.baths"
                  label="Fresh baths"
                  options={[1, 2, 3, 4].map((n): Option => [n, String(n)])}
                />
              </>
            )}
          </Box>
          <Field<Told> name="note" label="What else was done" />
          <ErrorNotice error={sheet.error} />
          <Stack direction="row" spacing={1}>
            <Button type="submit" variant="contained" disabled={sheet.isSaving}>
              Log it
            </Button>
            <Button onClick={close}>Not now</Button>
          </Stack>
        </Stack>
      </Paper>
    </FormProvider>
  );
}
