import { Button, Stack, TextField, Typography } from "@mui/material";
import type { Schemas } from "../api/client";
import { controlName, inOrder } from "./controlName";
import { PanelView } from "./PanelView";
import { useTouches } from "./useTouches";

/** What is pressed for one purpose, shown on the drawing as it is done on the brewer: in order, together, held as long. */
export function ScriptAsked({
  ask,
  panel,
  touches,
  onChange,
}: {
  ask: Schemas["ScriptAsk"];
  panel: Schemas["Panel"];
  touches: Schemas["Touch"][];
  onChange: (touches: Schemas["Touch"][]) => void;
}) {
  const fingers = useTouches((touch) => onChange([...touches, touch]));
  const named = (id: string) => {
    const control = panel.controls.find((one) => one.id === id);
    return control ? controlName(control) : "";
  };
  return (
    <Stack spacing={1.5}>
      <Typography variant="h2">{ask.asks}</Typography>
      <Typography>
        Touch it here in the same order. What you hold, hold here as long; two at once, with two fingers.
      </Typography>
      <PanelView panel={panel} order={inOrder(touches)} label={ask.name} onDown={fingers.onDown} onUp={fingers.onUp} />
      <Stack component="ol" spacing={1} sx={{ m: 0, pl: 3 }} role="list" aria-label={ask.name}>
        {touches.map((touch, n) => (
          <li key={n}>
            <Stack direction="row" sx={{ gap: 1, alignItems: "center", flexWrap: "wrap" }}>
              <Typography sx={{ flexGrow: 1 }}>{touch.controls.map(named).join(" and ")}</Typography>
              <TextField
                size="small"
                type="number"
                label="Held, s"
                value={touch.hold_seconds && touch.hold_seconds >= 1 ? Math.round(touch.hold_seconds) : ""}
                placeholder="press"
                onChange={(e) => {
                  const held = e.target.value === "" ? null : Number(e.target.value);
                  onChange(touches.map((one, i) => (i === n ? { ...one, hold_seconds: held } : one)));
                }}
                slotProps={{ inputLabel: { shrink: true }, htmlInput: { min: 1, max: 60 } }}
                sx={{ width: 96 }}
              />
              <Button
                aria-label={`Take touch ${n + 1} out`}
                onClick={() => onChange(touches.filter((_, i) => i !== n))}
              >
                Take out
              </Button>
            </Stack>
          </li>
        ))}
      </Stack>
    </Stack>
  );
}
