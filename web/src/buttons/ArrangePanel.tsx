import { Box, Button, Stack, TextField, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useState } from "react";
import { photoAt, type Schemas } from "../api/client";
import { newId } from "../api/newId";
import { kinds, shapes } from "./controlName";
import { PanelView } from "./PanelView";

/** Buttons, levers and lamps put where they are, by touch, each with the person's own word. */
export function ArrangePanel({
  panel,
  photos,
  onChange,
}: {
  panel: Schemas["Panel"];
  photos: Schemas["PhotoBrief"][];
  onChange: (panel: Schemas["Panel"]) => void;
}) {
  const [kind, setKind] = useState<Schemas["ControlKind"]>("button");
  const [shape, setShape] = useState<Schemas["ControlShape"]>("round");
  const [chosen, setChosen] = useState<string>();
  const [moves, setMoves] = useState(false);
  const one = panel.controls.find((control) => control.id === chosen);
  const change = (next: Partial<Schemas["Control"]>) =>
    onChange({
      ...panel,
      controls: panel.controls.map((control) => (control.id === chosen ? { ...control, ...next } : control)),
    });
  const place = (at: { x: number; y: number }) => {
    if (moves && one) {
      change(at);
      setMoves(false);
      return;
    }
    const id = newId();
    onChange({ ...panel, controls: [...panel.controls, { id, kind, shape, word: "", ...at }] });
    setChosen(id);
  };
  const guides = photos.filter((photo) => photo.shows === "guide");
  return (
    <Stack spacing={1.5}>
      <Typography variant="h2">What is on it?</Typography>
      <Typography>
        Choose what it is and how it looks, then touch the place where it is on your brewer. Give it a word of your own.
      </Typography>
      <Choice label="What is it?" value={kind} options={kinds} onChange={setKind} />
      <Choice label="How does it look?" value={shape} options={shapes} onChange={setShape} />
      <PanelView
        panel={panel}
        chosen={chosen}
        label={moves ? "Touch where it belongs" : "Touch where it is"}
        onPlace={place}
        onDown={(id) => {
          setChosen(id);
          setMoves(false);
        }}
      />
      <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap" }}>
        {/* Without a pointer it goes beside the last. */}
        <Button variant="outlined" onClick={() => place({ x: (0.12 + 0.18 * panel.controls.length) % 0.9, y: 0.5 })}>
          Put one beside the last
        </Button>
      </Stack>
      {one && (
        <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap", alignItems: "center" }}>
          <TextField
            key={one.id}
            label="Your word for it"
            value={one.word}
            onChange={(e) => change({ word: e.target.value })}
            helperText="big cup, start, drop"
            slotProps={{ htmlInput: { maxLength: 24 } }}
          />
          <Button onClick={() => setMoves(true)}>{moves ? "Touch the new place" : "Move it"}</Button>
          <Button
            onClick={() => {
              onChange({ ...panel, controls: panel.controls.filter((control) => control.id !== one.id) });
              setChosen(undefined);
            }}
          >
            Take it off
          </Button>
        </Stack>
      )}
      {guides.length > 0 && (
        <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap", alignItems: "center" }}>
          <Typography color="textSecondary">On a photo of your own:</Typography>
          {guides.map((photo) => (
            <Button
              key={photo.id}
              aria-pressed={panel.photo === photo.id}
              variant={panel.photo === photo.id ? "outlined" : "text"}
              onClick={() => onChange({ ...panel, photo: panel.photo === photo.id ? null : photo.id })}
            >
              <Box component="img" alt="This photo" src={photoAt(photo.id)} sx={{ height: 48 }} />
            </Button>
          ))}
        </Stack>
      )}
    </Stack>
  );
}

function Choice<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: T;
  options: [T, string][];
  onChange: (value: T) => void;
}) {
  return (
    <ToggleButtonGroup
      exclusive
      value={value}
      aria-label={label}
      onChange={(_, next) => next && onChange(next)}
      sx={{ flexWrap: "wrap" }}
    >
      {options.map(([one, name]) => (
        <ToggleButton key={one} value={one} sx={{ minHeight: 44 }}>
          {name}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}
