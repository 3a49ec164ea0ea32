import { Box, Button, Paper, Stack, Typography } from "@mui/material";
import { useState } from "react";
import { FormProvider } from "react-hook-form";
import { Link } from "react-router";
import { Refused, type Schemas, send, useChange } from "../api/client";
import { newId } from "../api/newId";
import { Field } from "../ui/Field";
import { ErrorNotice } from "../ui/Notices";
import { Resumed } from "../ui/Resumed";
import { useUndo } from "../ui/Undo";
import { useSheet } from "../ui/useSheet";

type What = Schemas["What"];
type Kind =
  | "brewed"
  | "counter"
  | "away"
  | "filter_fitted"
  | "needles_cleared"
  | "timed"
  | "slow"
  | "noisy"
  | "cooler"
  | "light";

const kinds: [Kind, string][] = [
  ["brewed", "Cups brewed"],
  ["counter", "Reading of its counter"],
  ["away", "Days away"],
  ["filter_fitted", "A new water filter"],
  ["needles_cleared", "Needles cleared"],
  ["timed", "A cup was timed"],
  ["slow", "It got slow, or cups came short"],
  ["noisy", "It got louder"],
  ["cooler", "The cup got cooler"],
  ["light", "Its descaling light came on"],
];

const numbers = {
  brewed: ["cups", "Cups"],
  counter: ["brews", "Brews it shows"],
  timed: ["seconds", "Seconds of its largest cup"],
} as const;

/** What is typed of an entry; only what belongs to its kind is sent. */
interface Typed {
  kind: Kind;
  day: string;
  what: {
    cups: number | null;
    brews: number | null;
    seconds: number | null;
    until: string;
    circuit_id: string;
    dated: boolean;
  };
}

/** A number that nobody typed is for the core to ask for. */
const orNone = (number: number | null) => number as number;

function whatOf({ kind, what }: Typed): What {
  switch (kind) {
    case "brewed":
      return { kind, cups: orNone(what.cups) };
    case "counter":
      return { kind, brews: orNone(what.brews) };
    case "timed":
      return { kind, circuit_id: what.circuit_id, seconds: orNone(what.seconds) };
    case "away":
      return { kind, until: what.until };
    case "filter_fitted":
    case "needles_cleared":
      return { kind };
    default:
      return { kind: "sign", circuit_id: what.circuit_id, sign: kind, dated: what.dated };
  }
}

/** Writes an entry down and offers to take it back. */
export function useEntries(id: string) {
  const offerUndo = useUndo();
  const remove = useChange((entry: string) => send.deleteEntry(id, entry));
  const restore = useChange((entry: string) => send.restoreEntry(id, entry));
  const add = useChange((body: Schemas["EntryDraft"]) => send.entry(id, body));
  const offerBack = (text: string, entry: string) => offerUndo({ text, undo: () => remove.mutate(entry) });
  return {
    error: add.error ?? remove.error ?? restore.error,
    pending: add.isPending,
    offerBack,
    add: (day: string, what: What, text: string, then?: () => void, entryId = newId()) =>
      add.mutate(
        { id: entryId, day, what },
        {
          onSuccess: (entry) => {
            offerBack(text, entry.id);
            then?.();
          },
        },
      ),
    takeBack: (entry: string) =>
      remove.mutate(entry, {
        onSuccess: () => offerUndo({ text: "Taken back", undo: () => restore.mutate(entry) }),
      }),
  };
}

/** An entry of any kind, with its day and what belongs to it. */
function WriteDown({ id, today, circuits }: { id: string; today: string; circuits: Schemas["CircuitCard"][] }) {
  const { offerBack } = useEntries(id);
  const sheet = useSheet<Typed, Schemas["Entry"]>({
    key: `journal-${id}`,
    first: {
      kind: "brewed",
      day: today,
      what: {
        cups: null,
        brews: null,
        seconds: null,
        until: today,
        circuit_id: circuits[0]?.circuit_id ?? "",
        dated: true,
      },
    },
    save: (typed) => send.entry(id, { id: newId(), day: typed.day, what: whatOf(typed) }),
    onSaved: (entry) => offerBack("Written down", entry.id),
    again: true,
  });
  const kind = sheet.form.watch("kind");
  const number = kind in numbers ? numbers[kind as keyof typeof numbers] : null;
  const isSign = ["slow", "noisy", "cooler", "light"].includes(kind);
  return (
    <FormProvider {...sheet.form}>
      <form onSubmit={sheet.submit}>
        <Resumed sheet={sheet} />
        <Box
          sx={{
            display: "grid",
            gap: 2,
            alignItems: "start",
            gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr", lg: "2fr 1fr 1fr auto" },
          }}
        >
          <Field<Typed> as="choice" name="kind" label="What happened" options={kinds} />
          <Field<Typed> as="day" name="day" label={kind === "away" ? "First day away" : "Day"} />
          {kind === "away" && <Field<Typed> as="day" name="what.until" label="Last day away" />}
          {number && <Field<Typed> key={number[0]} as="number" name={`what.${number[0]}`} label={number[1]} />}
          {isSign && (
            <Field<Typed>
              as="choice"
              name="what.dated"
              label="Is the day exact"
              options={[
                [true, "Yes, that day"],
                [false, "Only roughly"],
              ]}
            />
          )}
          {(isSign || kind === "timed") && circuits.length > 1 && (
            <Field<Typed>
              as="choice"
              name="what.circuit_id"
              label="Which side"
              options={circuits.map((c) => [c.circuit_id, c.name])}
            />
          )}
          <Button type="submit" variant="contained" disabled={sheet.isSaving}>
            Write it down
          </Button>
        </Box>
      </form>
      <ErrorNotice error={sheet.error} />
    </FormProvider>
  );
}

/** Logging what happens between cleans, the quick tap first. */
export function Journal({
  id,
  today,
  circuits,
  lines,
  log,
}: {
  id: string;
  today: string;
  circuits: Schemas["CircuitCard"][];
  lines: Schemas["JournalLine"][];
  log: Schemas["LogLine"][];
}) {
  const entries = useEntries(id);
  const [all, setAll] = useState(false);
  const counts = useChange((file: File) => file.text().then((csv) => send.counts(id, csv)));
  const shown = all ? lines : lines.slice(0, 6);
  const csvLines = counts.error instanceof Refused ? Object.entries(counts.error.fields) : [];
  return (
    <Paper component="section" sx={{ p: { xs: 2, md: 3 } }} aria-labelledby="journal">
      <Stack direction="row" sx={{ justifyContent: "space-between", gap: 2, flexWrap: "wrap", alignItems: "center" }}>
        <Typography variant="h2" id="journal">
          Between cleans
        </Typography>
        <Stack direction="row" spacing={1}>
          {[1, 2].map((cups) => (
            <Button
              key={cups}
              variant="outlined"
              size="large"
              disabled={entries.pending}
              onClick={() => entries.add(today, { kind: "brewed", cups }, cups === 1 ? "1 cup today" : "2 cups today")}
            >
              {cups === 1 ? "+ 1 cup" : "+ 2 cups"}
            </Button>
          ))}
        </Stack>
      </Stack>
      <Typography color="textSecondary" sx={{ mb: 2 }}>
        Days without an entry count by the habit; a counter reading counts most.
      </Typography>
      <WriteDown id={id} today={today} circuits={circuits} />
      <ErrorNotice error={entries.error} />
      <Stack component="ul" sx={{ listStyle: "none", p: 0, m: 0, mt: 2 }}>
        {shown.map(({ entry, text, is_counted: isCounted }) => (
          <Stack
            component="li"
            key={entry.id}
            direction="row"
            sx={{ alignItems: "center", justifyContent: "space-between", borderTop: 1, borderColor: "divider" }}
          >
            <Typography>
              {text}
              {log
                .filter((line) => line.outcome?.because?.entry_id === entry.id)
                .map((line) => (
                  <Typography key={line.clean_id} component="span">
                    {" "}
                    – led to{" "}
                    <Link to={`/cleans/${line.clean_id}`} style={{ color: "inherit" }}>
                      the work on {line.day_text}
                    </Link>
                  </Typography>
                ))}
            </Typography>
            {isCounted ? (
              <Typography color="textSecondary">counted</Typography>
            ) : (
              <Button size="small" color="inherit" onClick={() => entries.takeBack(entry.id)}>
                Take back
              </Button>
            )}
          </Stack>
        ))}
      </Stack>
      {lines.length === 0 && <Typography>Nothing written down yet.</Typography>}
      <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1, mt: 1, alignItems: "center" }}>
        {shown.length < lines.length && <Button onClick={() => setAll(true)}>Show all {lines.length}</Button>}
        <Button component="label">
          Bring counts from a CSV file
          <input
            type="file"
            accept=".csv,text/csv,text/plain"
            hidden
            onChange={(e) => {
              const file = e.target.files?.[0];
              if (file) counts.mutate(file);
              e.target.value = "";
            }}
          />
        </Button>
        <Typography variant="body2" color="textSecondary">
          One line a day: 2026-11-23,3
        </Typography>
      </Stack>
      {counts.data && !counts.error && <Typography role="status">{counts.data.days} days taken in.</Typography>}
      <ErrorNotice error={csvLines.length > 0 ? null : counts.error} />
      {csvLines.length > 0 &&
        csvLines.slice(0, 8).map(([field, message]) => (
          <Typography key={field}>
            {field}: {message}
          </Typography>
        ))}
    </Paper>
  );
}
