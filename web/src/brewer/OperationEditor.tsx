import { Box, Button, Checkbox, FormControlLabel, MenuItem, Stack, TextField, Typography } from "@mui/material";
import type { Schemas } from "../api/client";
import { typedOrNone } from "../ui/typed";
import { meanings } from "./Signals";

type Operation = Schemas["Operation"];

const blank: Operation = {
  enter: "",
  hold_seconds: null,
  press: "",
  rearm: "",
  reenter: false,
  leave: "",
  purge: "",
  programme_minutes: null,
  signals: [],
  healthy: null,
};

const lines = [
  ["enter", "Enter the cleaning mode", "As its manual says it"],
  ["press", "One dispense", "What to press for each cup"],
  ["rearm", "Between presses", "Open and close the lid; empty if nothing"],
  ["leave", "Leave the mode", "How it goes back to brewing"],
  ["purge", "Run it empty", "Only if it can: and when to let go"],
] as const;

/** The button recipe of one side, as its manual has it: typed once, shown at every step. */
export function OperationEditor({
  name,
  value,
  fields,
  programme,
  onChange,
}: {
  name: string;
  value: Operation | undefined;
  fields: Record<string, string>;
  programme: boolean;
  onChange: (value: Operation) => void;
}) {
  const operation = { ...blank, ...value };
  const set = (change: Partial<Operation>) => onChange({ ...operation, ...change });
  const error = (field: string) => fields[`${name}.${field}`];
  const signals = operation.signals ?? [];
  const change = (at: number, signal: Schemas["Signal"]) =>
    set({ signals: signals.map((known, i) => (i === at ? signal : known)) });
  const healthy = (field: "seconds" | "streams", text: string) => {
    const next = { seconds: operation.healthy?.seconds ?? null, streams: operation.healthy?.streams ?? null };
    next[field] = typedOrNone(text);
    set({
      healthy: next.seconds === null && next.streams === null ? null : (next as unknown as Schemas["Healthy"]),
    });
  };
  return (
    <>
      {lines.map(([field, label, help]) => (
        <TextField
          key={field}
          label={label}
          value={operation[field]}
          error={error(field) !== undefined}
          helperText={error(field) ?? help}
          onChange={(e) => set({ [field]: e.target.value })}
        />
      ))}
      <TextField
        label="Hold for, seconds"
        defaultValue={operation.hold_seconds ?? ""}
        inputMode="numeric"
        error={error("hold_seconds") !== undefined}
        helperText={error("hold_seconds") ?? "To enter the mode"}
        onChange={(e) => set({ hold_seconds: typedOrNone(e.target.value) })}
      />
      {programme && (
        <TextField
          label="Programme, minutes"
          defaultValue={operation.programme_minutes ?? ""}
          inputMode="numeric"
          error={error("programme_minutes") !== undefined}
          helperText={error("programme_minutes") ?? "Empty: estimated, then timed"}
          onChange={(e) => set({ programme_minutes: typedOrNone(e.target.value) })}
        />
      )}
      <TextField
        label="A cup takes, seconds"
        defaultValue={operation.healthy?.seconds ?? ""}
        inputMode="numeric"
        error={error("healthy.seconds") !== undefined}
        helperText={error("healthy.seconds") ?? "Largest size, when all is well"}
        onChange={(e) => healthy("seconds", e.target.value)}
      />
      <TextField
        label="Streams"
        defaultValue={operation.healthy?.streams ?? ""}
        inputMode="numeric"
        error={error("healthy.streams") !== undefined}
        helperText={error("healthy.streams") ?? "That fall when all is well"}
        onChange={(e) => healthy("streams", e.target.value)}
      />
      <FormControlLabel
        control={<Checkbox checked={operation.reenter} onChange={(e) => set({ reenter: e.target.checked })} />}
        label="The mode is entered again for each fill of rinse water"
      />
      <Box sx={{ gridColumn: "1 / -1" }}>
        <Typography variant="h3" gutterBottom>
          What it shows, and what that means
        </Typography>
        <Stack spacing={1}>
          {signals.map((signal, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: signals have no identity but their place
            <Stack key={i} direction={{ xs: "column", sm: "row" }} spacing={1}>
              <TextField
                label={`Signal ${i + 1}`}
                value={signal.seen}
                error={error(`signals.${i}.seen`) !== undefined}
                helperText={error(`signals.${i}.seen`) ?? ""}
                onChange={(e) => change(i, { ...signal, seen: e.target.value })}
              />
              <TextField
                select
                label="Means"
                value={signal.means}
                onChange={(e) => change(i, { ...signal, means: e.target.value as Schemas["Meaning"] })}
              >
                {Object.entries(meanings).map(([meaning, words]) => (
                  <MenuItem key={meaning} value={meaning}>
                    {words}
                  </MenuItem>
                ))}
              </TextField>
              <Button sx={{ flexShrink: 0 }} onClick={() => set({ signals: signals.filter((_, n) => n !== i) })}>
                Take out
              </Button>
            </Stack>
          ))}
          <Box>
            <Button variant="outlined" onClick={() => set({ signals: [...signals, { seen: "", means: "your_turn" }] })}>
              Another signal
            </Button>
          </Box>
        </Stack>
      </Box>
    </>
  );
}
