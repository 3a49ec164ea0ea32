import { Box, Button, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { FormProvider, useFormContext } from "react-hook-form";
import { type Schemas, send } from "../api/client";
import { newId } from "../api/newId";
import { queries } from "../api/queries";
import { Field } from "../ui/Field";
import { ErrorNotice } from "../ui/Notices";
import { Resumed } from "../ui/Resumed";
import { typed, typedOrNone } from "../ui/typed";
import { useSheet } from "../ui/useSheet";

type Reading = Schemas["Reading"];
type Unit = Schemas["HardnessUnit"];
type Way = Exclude<Reading["by"], "typed"> | "report";

const units: Unit[] = ["mg/L", "ppm", "gpg", "dH", "fH", "clark", "mmol/L"];
const ways: [Way, string][] = [
  ["unknown", "Not known yet"],
  ["taps", "Guess from the taps"],
  ["through", "Filtered, softened or bottled, a guess"],
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
  through: Schemas["Through"];
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
    way: reading?.by === "typed" ? "strip" : (reading?.by ?? "taps"),
    unit: reading && "unit" in reading ? reading.unit : "gpg",
    chalk: (reading?.by === "taps" || reading?.by === "through" ? reading.chalk : null) ?? "film",
    through: reading?.by === "through" ? reading.through : "jug",
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
      return { by: "typed", text: numbers.value ?? "", unit };
    case "between":
      return { by: "between", low: read(numbers.low), high: read(numbers.high), unit };
    case "unknown":
      return { by: "unknown" };
    case "taps":
      return { by: "taps", chalk: form.chalk };
    case "through":
      return { by: "through", through: form.through, chalk: form.through === "bottled" ? null : form.chalk };
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
  const known = useQuery(queries.waters()).data;
  const reports = known?.reports ?? [];
  const [id, setId] = useState(newId);
  const sheet = useSheet({
    key: `water-${water?.id ?? "new"}`,
    first: asTyped(water),
    save: (typed) => {
      const { name, price } = typed;
      const body = { name, reading: reading(typed, reports), price_a_litre: perhaps(price) };
      return water ? send.changeWater(water.id, body) : send.water(id, body);
    },
    onSaved: (kept) => {
      setId(newId());
      onDone(kept);
    },
  });
  const { form, submit, isSaving, error } = sheet;
  return (
    <FormProvider {...form}>
      <Stack spacing={2} sx={{ gridColumn: "1 / -1" }}>
        <Resumed sheet={sheet} />
        <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr", lg: "1fr 1fr 1fr" } }}>
          <Readings water={water} known={known?.waters ?? []} reports={reports} />
        </Box>
        <ErrorNotice error={error} />
        <Stack direction="row" spacing={1}>
          <Button variant="contained" disabled={isSaving} onClick={submit}>
            {water ? "Save water" : "Add water"}
          </Button>
          {onCancel && (
            <Button color="inherit" onClick={onCancel}>
              Leave it
            </Button>
          )}
        </Stack>
      </Stack>
    </FormProvider>
  );
}

/** Its name and price, and the fields of the way in which it is known. */
function Readings({
  water,
  known,
  reports,
}: {
  water: Schemas["Water"] | undefined;
  known: Schemas["WaterView"][];
  reports: Schemas["Report"][];
}) {
  const { watch, setValue } = useFormContext<Typed>();
  const [way, place, through] = watch(["way", "place", "through"]);
  const throughs = useQuery(queries.choices()).data?.throughs ?? [];
  const parts = known
    .filter((w) => w.water.reading.by !== "blend" && w.water.id !== water?.id)
    .map((w) => [w.water.id, w.water.name] as const);
  // Reports can be looked up in the demo only; nobody chooses not to know.
  const offered = ways.filter(
    ([by]) => (by !== "report" || reports.length > 0) && (by !== "unknown" || water?.reading.by === "unknown"),
  );
  const number = (key: string, label: string, help = "", field = `reading.${key}`) => (
    <Field<Typed> name={`numbers.${key}`} also={[field]} label={label} help={help} />
  );
  const report = reports.find((r) => r.place === place);
  return (
    <>
      <Field<Typed> name="name" label="Name of the water" />
      <Field<Typed> as="choice" name="way" also={["reading.by"]} label="How do you know it" options={offered} />
      <Field<Typed> name="price" also={["price_a_litre"]} label="Price a litre" help="Only if you buy it" />
      {way === "through" && (
        <Field<Typed>
          as="choice"
          name="through"
          label="What it is"
          options={throughs.map(({ id, words }) => [id, words] as const)}
        />
      )}
      {(way === "taps" || (way === "through" && through !== "bottled")) && (
        <Field<Typed> as="choice" name="chalk" label="Chalk on taps and shower heads" options={taps} />
      )}
      {way === "strip" && number("value", "Hardness", "As it stands there: 7 grains, 120 ppm, 8-10 dH", "reading.text")}
      {way === "between" && number("low", "At least", "The number beside the last colour it has passed")}
      {way === "between" && number("high", "Less than", "The number beside the next colour")}
      {(way === "strip" || way === "between") && (
        <Field<Typed>
          as="choice"
          name="unit"
          label={way === "strip" ? "Unit, where none is written" : "Unit"}
          options={units.map((u) => [u, u] as const)}
        />
      )}
      {way === "label" && number("ca_mg_l", "Calcium, mg/L")}
      {way === "label" && number("mg_mg_l", "Magnesium, mg/L")}
      {way === "label" && number("hco3_mg_l", "Hydrogen carbonate, mg/L")}
      {way === "label" && number("ph", "pH", "If it is given")}
      {way === "label" && number("tds_mg_l", "Dissolved solids, mg/L", "If they are given")}
      {way === "report" && (
        <Field<Typed>
          as="choice"
          name="place"
          also={["reading.ca_mg_l"]}
          label="Place"
          options={reports.map((r) => [r.place, `${r.place} – ${r.supplier}`] as const)}
          onChosen={(chosen) => water || setValue("name", String(chosen))}
        />
      )}
      {way === "blend" && (
        <Field<Typed> as="choice" name="first" also={["reading.first_id"]} label="One water" options={parts} />
      )}
      {way === "blend" && (
        <Field<Typed> as="choice" name="second" also={["reading.second_id"]} label="The other" options={parts} />
      )}
      {way === "blend" && number("share", "Of the first, %", "50 is half and half", "reading.share_first")}
      {way === "report" && report?.reading.by === "label" && (
        <Typography color="textSecondary" sx={{ gridColumn: "1 / -1" }}>
          {report.supplier}: calcium {report.reading.ca_mg_l}, magnesium {report.reading.mg_mg_l}, hydrogen carbonate{" "}
          {report.reading.hco3_mg_l} mg/L, pH {report.reading.ph}
        </Typography>
      )}
    </>
  );
}
