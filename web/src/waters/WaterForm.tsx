import { Box, Button, MenuItem, Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { Refused, type Schemas, send, useChange, useWaters } from "../api/client";
import { newId } from "../api/newId";
import { ErrorNotice } from "../ui/Notices";
import { typed, typedOrNone } from "../ui/typed";

type Reading = Schemas["Reading"];
type Unit = Schemas["HardnessUnit"];
type Way = Reading["by"] | "report";

const units: Unit[] = ["mg/L", "ppm", "gpg", "dH", "fH", "clark", "mmol/L"];
const ways: [Way, string][] = [
  ["unknown", "Not known yet"],
  ["taps", "Guess from the taps"],
  ["strip", "Test strip or kit, a number"],
  ["between", "Test strip, between two steps"],
  ["label", "Bottle label or report"],
  ["report", "Look up a made-up report (demo)"],
  ["blend", "Two waters poured together"],
];
const taps: [Schemas["TapChalk"], string][] = [
  ["none", "Taps stay clean for months"],
  ["film", "A faint film after some weeks"],
  ["crust", "A white crust within weeks"],
  ["flakes", "A thick crust, flakes in the kettle"],
];

/** What is typed, as typed; the core reads it. */
type Typed = {
  name: string;
  price: string;
  way: Way;
  unit: Unit;
  chalk: Schemas["TapChalk"];
  first: string;
  second: string;
  place: string;
  numbers: Record<string, string>;
};

function asTyped(water: Schemas["Water"] | undefined): Typed {
  const reading = water?.reading;
  const numbers: Record<string, string> = { share: "50" };
  for (const [key, value] of Object.entries(reading ?? {})) if (typeof value === "number") numbers[key] = String(value);
  if (reading?.by === "blend") numbers.share = String(reading.share_first * 100);
  return {
    name: water?.name ?? "Tap water",
    price: water?.price_a_litre == null ? "" : String(water.price_a_litre),
    way: reading?.by ?? "taps",
    unit: reading && "unit" in reading ? reading.unit : "gpg",
    chalk: reading?.by === "taps" ? reading.chalk : "film",
    first: reading?.by === "blend" ? reading.first_id : "",
    second: reading?.by === "blend" ? reading.second_id : "",
    place: "",
    numbers,
  };
}

const read = (text: string | undefined) => typed(text ?? "");
const perhaps = (text: string | undefined) => typedOrNone(text ?? "");

/** Per cent as typed, as a share. */
const share = (text: string | undefined) => {
  const perCent = read(text);
  return typeof perCent === "number" ? perCent / 100 : perCent;
};

function reading(form: Typed, reports: Schemas["Report"][]): Reading {
  const { numbers, unit } = form;
  switch (form.way) {
    case "strip":
      return { by: "strip", value: read(numbers.value), unit };
    case "between":
      return { by: "between", low: read(numbers.low), high: read(numbers.high), unit };
    case "unknown":
      return { by: "unknown" };
    case "taps":
      return { by: "taps", chalk: form.chalk };
    case "blend":
      return {
        by: "blend",
        first_id: form.first,
        second_id: form.second,
        share_first: share(numbers.share),
      };
    case "report": {
      const report = reports.find((r) => r.place === form.place);
      if (report) return report.reading;
    }
  }
  return {
    by: "label",
    ca_mg_l: read(numbers.ca_mg_l),
    mg_mg_l: read(numbers.mg_mg_l),
    hco3_mg_l: read(numbers.hco3_mg_l),
    ph: perhaps(numbers.ph),
    tds_mg_l: perhaps(numbers.tds_mg_l),
  };
}

/** A new water, or what is known of one, by whatever the person has at hand. */
export function WaterForm({
  water,
  onDone,
  onCancel,
}: {
  water?: Schemas["Water"] | undefined;
  onDone: (water: Schemas["Water"]) => void;
  onCancel?: (() => void) | undefined;
}) {
  const [form, setForm] = useState(() => asTyped(water));
  const known = useWaters().data;
  const [id, setId] = useState(newId);
  const save = useChange((body: Schemas["WaterDraft"]) =>
    water ? send.changeWater(water.id, body) : send.water(id, body),
  );
  const fields = save.error instanceof Refused ? save.error.fields : {};
  const set = (change: Partial<Typed>) => setForm({ ...form, ...change });
  const parts = (known?.waters ?? []).filter((w) => w.water.reading.by !== "blend" && w.water.id !== water?.id);
  const reports = known?.reports ?? [];
  // Reports can be looked up in the demo only; nobody chooses not to know.
  const offered = ways.filter(
    ([way]) => (way !== "report" || reports.length > 0) && (way !== "unknown" || water?.reading.by === "unknown"),
  );

  const number = (key: string, label: string, help = "", field = `reading.${key}`) => (
    <TextField
      label={label}
      inputMode="decimal"
      value={form.numbers[key] ?? ""}
      error={field in fields}
      helperText={fields[field] ?? help}
      onChange={(e) => set({ numbers: { ...form.numbers, [key]: e.target.value } })}
    />
  );
  const choice = <T extends string>(
    label: string,
    value: T,
    options: readonly (readonly [T, string])[],
    take: (value: T) => void,
    error?: string,
  ) => (
    <TextField
      select
      label={label}
      value={options.some(([id]) => id === value) ? value : ""}
      error={error !== undefined}
      helperText={error}
      onChange={(e) => take(e.target.value as T)}
    >
      {options.map(([id, words]) => (
        <MenuItem key={id} value={id}>
          {words}
        </MenuItem>
      ))}
    </TextField>
  );
  const unit = choice(
    "Unit",
    form.unit,
    units.map((u) => [u, u] as const),
    (u) => set({ unit: u }),
  );
  const report = reports.find((r) => r.place === form.place);
  const named = Object.keys(fields).some((field) => field !== "reading");

  return (
    <Stack spacing={2} sx={{ gridColumn: "1 / -1" }}>
      <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr", lg: "1fr 1fr 1fr" } }}>
        <TextField
          label="Name of the water"
          value={form.name}
          error={"name" in fields}
          helperText={fields.name}
          onChange={(e) => set({ name: e.target.value })}
        />
        {choice("How do you know it", form.way, offered, (way) => set({ way }), fields["reading.by"])}
        <TextField
          label="Price a litre"
          inputMode="decimal"
          value={form.price}
          error={"price_a_litre" in fields}
          helperText={fields.price_a_litre ?? "Only if you buy it"}
          onChange={(e) => set({ price: e.target.value })}
        />
        {form.way === "taps" && choice("Chalk on taps and shower heads", form.chalk, taps, (chalk) => set({ chalk }))}
        {form.way === "strip" && number("value", "Hardness")}
        {form.way === "between" && number("low", "At least", "The number beside the last colour it has passed")}
        {form.way === "between" && number("high", "Less than", "The number beside the next colour")}
        {(form.way === "strip" || form.way === "between") && unit}
        {form.way === "label" && number("ca_mg_l", "Calcium, mg/L")}
        {form.way === "label" && number("mg_mg_l", "Magnesium, mg/L")}
        {form.way === "label" && number("hco3_mg_l", "Hydrogen carbonate, mg/L")}
        {form.way === "label" && number("ph", "pH", "If it is given")}
        {form.way === "label" && number("tds_mg_l", "Dissolved solids, mg/L", "If they are given")}
        {form.way === "report" &&
          choice(
            "Place",
            form.place,
            reports.map((r) => [r.place, `${r.place} – ${r.supplier}`] as const),
            (place) => set({ place, name: water ? form.name : place }),
            fields["reading.ca_mg_l"] && "choose a place",
          )}
        {form.way === "blend" &&
          choice(
            "One water",
            form.first,
            parts.map((w) => [w.water.id, w.water.name] as const),
            (first) => set({ first }),
            fields["reading.first_id"],
          )}
        {form.way === "blend" &&
          choice(
            "The other",
            form.second,
            parts.map((w) => [w.water.id, w.water.name] as const),
            (second) => set({ second }),
            fields["reading.second_id"],
          )}
        {form.way === "blend" && number("share", "Of the first, %", "50 is half and half", "reading.share_first")}
      </Box>
      {form.way === "report" && report?.reading.by === "label" && (
        <Typography color="textSecondary">
          {report.supplier}: calcium {report.reading.ca_mg_l}, magnesium {report.reading.mg_mg_l}, hydrogen carbonate{" "}
          {report.reading.hco3_mg_l} mg/L, pH {report.reading.ph}
        </Typography>
      )}
      {!named && <ErrorNotice error={save.error} />}
      <Stack direction="row" spacing={1}>
        <Button
          variant="contained"
          disabled={save.isPending}
          onClick={() =>
            save.mutate(
              { name: form.name, reading: reading(form, reports), price_a_litre: perhaps(form.price) },
              {
                onSuccess: (kept) => {
                  setId(newId());
                  onDone(kept);
                },
              },
            )
          }
        >
          {water ? "Save water" : "Add water"}
        </Button>
        {onCancel && (
          <Button color="inherit" onClick={onCancel}>
            Leave it
          </Button>
        )}
      </Stack>
    </Stack>
  );
}
