import type { Schemas } from "../../api/client";
import { Field } from "../../ui/Field";

type Draft = Schemas["BrewerDraft"];

const figures = [
  ["temp_c", "Water in the heater, °C", "Hotter water leaves more chalk"],
  ["area_cm2", "Wetted area, cm²", "Calibrated, not measured: keep it unless you know"],
  ["limit_um", "Crust it suffers from, µm", "Calibrated, not measured"],
  ["sticks_percent", "Share that sticks, %", "Where learning starts from"],
] as const;

/** The figures by which chalk is reckoned in one heater. */
export function HeatingFields({ within }: { within: "heating" | "other_side.heating" }) {
  return figures.map(([figure, label, help]) => (
    <Field<Draft> key={figure} as="number" name={`${within}.${figure}`} label={label} help={help} />
  ));
}
