import { Stack } from "@mui/material";
import { useFormContext } from "react-hook-form";
import type { Schemas } from "../../api/client";
import { Field, type Option } from "../../ui/Field";
import { useHints } from "../../ui/useHints";
import { PastFields } from "./PastFields";

type Draft = Schemas["BrewerDraft"];

const washouts: Option[] = [
  [null, "as usual for its kind"],
  ["tank_batch", "one tank, cup by cup"],
  ["tank_exp", "one tank, stirred as it flows"],
  ["series2", "two parts in a row"],
  ["series3", "three parts in a row"],
  ["drip", "only what stays wet"],
];

const usual = "Keep the usual figure if you do not know";

/** Volumes, times, and what it has. */
export function FigureFields() {
  const hints = useHints();
  const family = useFormContext<Draft>().watch("family");
  const isPod = family !== "drip" && family !== "combination";
  return (
    <>
      {!isPod && (
        <Field<Draft> as="number" name="carafe_marks" label="Marks on the carafe" help="Count the lines on the glass" />
      )}
      {!isPod && (
        <Field<Draft> name="carafe_mark" label="One carafe mark" help={`Not a measuring cup. ${hints.mark}`} />
      )}
      <Field<Draft>
        name="reservoir"
        label="Reservoir"
        help={`To its top mark: ${isPod ? hints.reservoir : hints.carafe}`}
      />
      {isPod && <Field<Draft> name="dispense" label="Largest cup" help="One press of the largest size" />}
      <Field<Draft> name="hold_up" label="Stays in heater and tubes" help={usual} />
      <Field<Draft> name="dead_volume" label="Left in the reservoir" help="What is left when it asks for water" />
      {!isPod && (
        <Field<Draft>
          as="number"
          name="brew_minutes"
          label="Minutes of a full brew"
          help="From start to the last drop"
        />
      )}
      <Field<Draft>
        as="choice"
        name="washout"
        label="How it rinses out"
        help="Keep the usual if you do not know"
        options={washouts}
      />
      <Stack>
        <Field<Draft> as="tick" name="filter" label="A water filter sits in the reservoir" />
        <Field<Draft> as="tick" name="self_clean" label="It has a cleaning programme that runs by itself" />
        <Field<Draft> as="tick" name="hot_water" label="Its hot-water outlet is used" />
      </Stack>
      {isPod && (
        <Field<Draft>
          name="reservoir_line"
          label="One line of the reservoir"
          help="Only if it has evenly spaced lines"
        />
      )}
    </>
  );
}

/** What a filter does, and how long. */
export function FilterFields() {
  const sooner = "Whichever is sooner";
  return (
    <>
      <Field<Draft>
        as="number"
        name="filter_takes_out"
        label="Takes out of carbonate hardness, %"
        help="0 for plain charcoal; a softening one says so"
      />
      <Field<Draft> as="number" name="filter_days" label="Lasts, days" help={sooner} />
      <Field<Draft> as="number" name="filter_fills" label="Lasts, reservoir fills" help={sooner} />
      <Field<Draft> as="number" name="filter_price" label="Price of a new one" help="Leave empty if you do not know" />
    </>
  );
}

/** How much goes through it, and since when. */
export function HabitFields() {
  const hints = useHints();
  return (
    <>
      <Field<Draft> as="number" name="weekday_cups" label="Cups a day, Monday to Friday" help="On average" />
      <Field<Draft> as="number" name="weekend_cups" label="Cups a day, weekend" help="On average" />
      <Field<Draft> name="cup" label="One cup" help={hints.cup} />
      <PastFields />
    </>
  );
}
