import { Button, Stack, TextField, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import type { Schemas } from "../api/client";
import { controlName } from "./controlName";

const meant: [Schemas["Meaning"], string][] = [
  ["your_turn", "When it waits for you"],
  ["working", "While it works"],
  ["wants_water", "When it wants water, or the bath has ended"],
  ["done", "When it has finished"],
  ["asks_for_descaling", "When it asks to be descaled"],
];
const doings: [Schemas["LampDoes"], string][] = [
  ["lights", "Lights"],
  ["flashes", "Flashes"],
  ["goes_out", "Goes out"],
];

/** What lit up, and what it did: for each meaning a lamp of the panel, or words where it beeps or writes. */
export function LampsAsked({
  panel,
  signals,
  onChange,
}: {
  panel: Schemas["Panel"];
  signals: Schemas["Signal"][];
  onChange: (signals: Schemas["Signal"][]) => void;
}) {
  const lamps = panel.controls.filter((control) => control.kind === "lamp" || control.kind === "lit_button");
  const of = (means: Schemas["Meaning"]) => signals.find((signal) => signal.means === means);
  const set = (means: Schemas["Meaning"], signal: Schemas["Signal"] | null) => {
    // Further signals of the same meaning, typed on the sheet, stay.
    const first = signals.findIndex((one) => one.means === means);
    const rest = signals.filter((_, n) => n !== first);
    onChange(signal ? [...rest, signal] : rest);
  };
  return (
    <Stack spacing={2}>
      <Typography variant="h2">What lit up, and what did it do?</Typography>
      {meant.map(([means, words]) => {
        const known = of(means);
        const lamp = known?.lamp;
        return (
          <Stack key={means} spacing={1} component="section" aria-label={words}>
            <Typography variant="h3">{words}</Typography>
            <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap", alignItems: "center" }}>
              {lamps.map((control) => (
                <ToggleButton
                  key={control.id}
                  value={control.id}
                  selected={lamp?.control === control.id}
                  onChange={() =>
                    set(
                      means,
                      lamp?.control === control.id
                        ? null
                        : { means, seen: "", lamp: { control: control.id, does: lamp?.does ?? "flashes" } },
                    )
                  }
                  aria-label={controlName(control)}
                  sx={{
                    minHeight: 44,
                    "&.Mui-selected": { outline: 2, outlineColor: "primary.main", outlineOffset: -2 },
                  }}
                >
                  {control.word || controlName(control)}
                </ToggleButton>
              ))}
              {lamp ? (
                <ToggleButtonGroup
                  exclusive
                  value={lamp.does}
                  aria-label={`${words}: what does it do?`}
                  onChange={(_, does) => does && set(means, { means, seen: "", lamp: { ...lamp, does } })}
                >
                  {doings.map(([does, name]) => (
                    <ToggleButton key={does} value={does} sx={{ minHeight: 44 }}>
                      {name}
                    </ToggleButton>
                  ))}
                </ToggleButtonGroup>
              ) : (
                <TextField
                  size="small"
                  label="Or in words"
                  value={known?.seen ?? ""}
                  placeholder="beeps three times"
                  onChange={(e) => set(means, e.target.value ? { means, seen: e.target.value } : null)}
                />
              )}
              {known && <Button onClick={() => set(means, null)}>Clear</Button>}
            </Stack>
          </Stack>
        );
      })}
    </Stack>
  );
}
