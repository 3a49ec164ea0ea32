import { MenuItem, TextField } from "@mui/material";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { typed } from "../ui/typed";
import { useHints } from "../ui/useHints";

type Mechanics = Schemas["Mechanics"];
type Fact = "programme" | "needs_light" | "mode" | "soaks_inside" | "float" | "shows_time";

export const blankMechanics: Mechanics = {
  programme: null,
  needs_light: null,
  mode: null,
  survives: null,
  soaks_inside: null,
  ends: null,
  float: null,
  shows_time: null,
  marks: [],
  sizes: [],
};

const survives = [
  ["nothing", "Nothing: it ends by itself when left"],
  ["waiting", "Being left alone, switched on"],
  ["switched_off", "Also being switched off"],
  ["unplugged", "Also the plug being pulled"],
] as const;

const ends = [
  ["light", "The descaling light going out"],
  ["wants_water", "“Wants water” after the rinse fill"],
  ["one_fill", "Exactly one fill of rinse water"],
] as const;

/** What a side of a brewer does by itself. The plan takes the safe way wherever nobody knows. */
export function MechanicsEditor({
  name,
  value,
  fields,
  pressed,
  onChange,
}: {
  name: string;
  value: Mechanics | undefined;
  fields: Record<string, string>;
  pressed: boolean;
  onChange: (value: Mechanics) => void;
}) {
  const hints = useHints();
  const mechanics = { ...blankMechanics, ...value };
  const [mark, setMark] = useState({
    name: mechanics.marks?.[0]?.name ?? "",
    ml: String(mechanics.marks?.[0]?.ml ?? ""),
  });
  const [sizes, setSizes] = useState(mechanics.sizes?.join(", ") ?? "");
  const set = (change: Partial<Mechanics>) => onChange({ ...mechanics, ...change });
  const error = (field: string) => fields[`${name}.${field}`];

  const keepMark = (next: { name: string; ml: string }) => {
    setMark(next);
    const isNone = next.name.trim() === "" && next.ml.trim() === "";
    set({ marks: isNone ? [] : [{ name: next.name, ml: typed(next.ml) }] });
  };

  const choose = <T extends string>(
    field: "survives" | "ends",
    label: string,
    options: readonly (readonly [T, string])[],
  ) => (
    <TextField
      select
      label={label}
      value={mechanics[field] ?? ""}
      error={error(field) !== undefined}
      helperText={error(field) ?? ""}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      onChange={(e) => set({ [field]: e.target.value === "" ? null : e.target.value })}
    >
      <MenuItem value="">Don’t know</MenuItem>
      {options.map(([id, words]) => (
        <MenuItem key={id} value={id}>
          {words}
        </MenuItem>
      ))}
    </TextField>
  );
  const fact = (field: Fact, label: string, help: string) => (
    <TextField
      select
      label={label}
      value={mechanics[field] == null ? "" : String(mechanics[field])}
      error={error(field) !== undefined}
      helperText={error(field) ?? help}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      onChange={(e) => set({ [field]: e.target.value === "" ? null : e.target.value === "true" })}
    >
      <MenuItem value="">Don’t know</MenuItem>
      <MenuItem value="true">Yes</MenuItem>
      <MenuItem value="false">No</MenuItem>
    </TextField>
  );

  return (
    <>
      {fact("programme", "Cleans by a programme", "It runs all of the bath by itself")}
      {mechanics.programme !== false &&
        fact("needs_light", "Only while its light asks", "The programme starts only then")}
      {pressed && fact("mode", "Has a cleaning mode", "Pressed cup by cup, with lights of its own")}
      {pressed && mechanics.mode !== false && (
        <>
          {choose("survives", "The mode outlasts", survives)}
          {fact("soaks_inside", "Can soak in the mode", "It stays on while the bath stands")}
          {choose("ends", "The mode ends with", ends)}
        </>
      )}
      {fact("float", "Float in the tank", "Lowered to the bottom before the bath")}
      {fact("shows_time", "Shows the time left", "On its display, while it cleans")}
      <TextField
        label="A mark with a name"
        value={mark.name}
        error={error("marks.0.name") !== undefined}
        helperText={error("marks.0.name") ?? "As printed: the agent can then be poured to it by that name"}
        onChange={(e) => keepMark({ ...mark, name: e.target.value })}
      />
      <TextField
        label="Up to that mark, mL"
        value={mark.ml}
        inputMode="decimal"
        error={error("marks.0.ml") !== undefined}
        helperText={error("marks.0.ml") ?? ""}
        onChange={(e) => keepMark({ ...mark, ml: e.target.value })}
      />
      <TextField
        label="Sizes on its buttons"
        value={sizes}
        error={error("sizes") !== undefined}
        helperText={error("sizes") ?? `As printed: ${hints.sizes}`}
        onChange={(e) => {
          setSizes(e.target.value);
          const given = e.target.value.split(",").map((size) => size.trim());
          set({ sizes: given.filter((size) => size !== "") });
        }}
      />
    </>
  );
}
