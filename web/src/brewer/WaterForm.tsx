import { Box, Button, MenuItem, Stack, TextField } from "@mui/material";
import { useState } from "react";
import { type Schemas, send, useChange } from "../api/client";
import { ErrorNotice } from "../ui/Notices";

const units = ["mg/L", "ppm", "gpg", "dH", "fH", "clark", "mmol/L"] as const;
const taps: [Schemas["TapChalk"], string][] = [
  ["none", "Taps stay clean for months"],
  ["film", "A faint film after some weeks"],
  ["crust", "A white crust within weeks"],
  ["flakes", "A thick crust, flakes in the kettle"],
];
type By = Schemas["Reading"]["by"];

/** A water by strip, by label, or by the chalk on taps. */
export function WaterForm({ open, onAdded }: { open: boolean; onAdded: (water: Schemas["Water"]) => void }) {
  const [shown, setShown] = useState(open);
  const [name, setName] = useState("Tap water");
  const [by, setBy] = useState<By>("taps");
  const [unit, setUnit] = useState<(typeof units)[number]>("gpg");
  const [chalk, setChalk] = useState<Schemas["TapChalk"]>("film");
  const [numbers, setNumbers] = useState<Record<string, string>>({});
  const add = useChange(send.water);
  if (!shown) return <Button onClick={() => setShown(true)}>Another water</Button>;

  const value = (key: string) => Number((numbers[key] ?? "").replace(",", ".") || "NaN");
  const reading = (): Schemas["Reading"] => {
    if (by === "strip") return { by, value: value("value"), unit };
    if (by === "taps") return { by, chalk };
    return { by, ca_mg_l: value("ca"), mg_mg_l: value("mg"), hco3_mg_l: value("hco3"), ph: null, tds_mg_l: null };
  };
  const number = (key: string, label: string) => (
    <TextField
      label={label}
      inputMode="decimal"
      value={numbers[key] ?? ""}
      onChange={(e) => setNumbers({ ...numbers, [key]: e.target.value })}
    />
  );
  return (
    <Box sx={{ gridColumn: "1 / -1" }}>
      <Stack spacing={2}>
        <Stack direction={{ xs: "column", sm: "row" }} spacing={2}>
          <TextField label="Name of the water" value={name} onChange={(e) => setName(e.target.value)} />
          <TextField select label="How do you know it" value={by} onChange={(e) => setBy(e.target.value as By)}>
            <MenuItem value="taps">Guess from the taps</MenuItem>
            <MenuItem value="strip">Test strip or kit</MenuItem>
            <MenuItem value="label">Bottle label or report</MenuItem>
          </TextField>
        </Stack>
        <Stack direction={{ xs: "column", sm: "row" }} spacing={2}>
          {by === "taps" && (
            <TextField
              select
              label="Chalk on taps and shower heads"
              value={chalk}
              onChange={(e) => setChalk(e.target.value as Schemas["TapChalk"])}
            >
              {taps.map(([id, words]) => (
                <MenuItem key={id} value={id}>
                  {words}
                </MenuItem>
              ))}
            </TextField>
          )}
          {by === "strip" && number("value", "Hardness")}
          {by === "strip" && (
            <TextField
              select
              label="Unit"
              value={unit}
              onChange={(e) => setUnit(e.target.value as (typeof units)[number])}
            >
              {units.map((u) => (
                <MenuItem key={u} value={u}>
                  {u}
                </MenuItem>
              ))}
            </TextField>
          )}
          {by === "label" && number("ca", "Calcium, mg/L")}
          {by === "label" && number("mg", "Magnesium, mg/L")}
          {by === "label" && number("hco3", "Hydrogen carbonate, mg/L")}
          <Button
            variant="outlined"
            sx={{ flexShrink: 0 }}
            onClick={() =>
              add.mutate(
                { name, reading: reading() },
                {
                  onSuccess: (water) => {
                    onAdded(water);
                    setShown(false);
                  },
                },
              )
            }
          >
            Add water
          </Button>
        </Stack>
        <ErrorNotice error={add.error} />
      </Stack>
    </Box>
  );
}
