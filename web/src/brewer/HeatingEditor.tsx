import { TextField } from "@mui/material";
import type { Schemas } from "../api/client";
import { typedOrNone } from "../ui/typed";

const figures = [
  ["temp_c", "Water in the heater, °C", "Hotter water leaves more chalk"],
  ["area_cm2", "Wetted area, cm²", "Calibrated, not measured: keep it unless you know"],
  ["limit_um", "Crust it suffers from, µm", "Calibrated, not measured"],
  ["sticks_percent", "Share that sticks, %", "Where learning starts from"],
] as const;

/** The figures by which chalk is reckoned in one heater. */
export function HeatingEditor({
  name,
  value,
  fields,
  onChange,
}: {
  name: string;
  value: Schemas["Heating"] | undefined;
  fields: Record<string, string>;
  onChange: (value: Schemas["Heating"]) => void;
}) {
  const blank = { temp_c: null, area_cm2: null, limit_um: null, sticks_percent: null };
  return figures.map(([figure, label, help]) => (
    <TextField
      key={figure}
      label={label}
      defaultValue={value?.[figure] ?? ""}
      inputMode="decimal"
      error={`${name}.${figure}` in fields}
      helperText={fields[`${name}.${figure}`] ?? help}
      onChange={(e) => onChange({ ...blank, ...value, [figure]: typedOrNone(e.target.value) })}
    />
  ));
}
