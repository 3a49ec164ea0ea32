import { Checkbox, FormControlLabel, MenuItem, type SxProps, TextField } from "@mui/material";
import { useState } from "react";
import { type FieldPath, type FieldValues, useController, useFormContext } from "react-hook-form";
import { DayField } from "./DayField";
import { TimeField } from "./TimeField";
import { typedOrNone, typedPercent } from "./typed";

/** What a choice means, and how it is called; nothing stands for "not told". */
export type Option = readonly [value: string | number | boolean | null, words: string];

export const yesOrNo: Option[] = [
  [null, "Don’t know"],
  [true, "Yes"],
  [false, "No"],
];

interface Common {
  label: string;
  help?: string | undefined;
  /** Other fields whose wrong values show here, because a person types them here. */
  also?: string[];
  sx?: SxProps;
  autoFocus?: boolean;
}

type How =
  | { as?: "text" }
  | { as: "lines" }
  /** A number, which may be left empty unless nothing means 0. */
  | { as: "number" | "percent"; empty?: null | 0 }
  | { as: "choice"; options: readonly Option[]; onChosen?: (value: Option[0]) => void }
  /** Several words with commas between them. */
  | { as: "list" }
  | { as: "tick" }
  | { as: "day" }
  /** A time of day; `usual` stands there until one is told. */
  | { as: "time"; usual?: string };

export type FieldProps<T extends FieldValues> = Common & How & { name: FieldPath<T> };

/** One field of a form: its label, what it takes, help, and what was wrong with it, by its path in what is sent. */
export function Field<T extends FieldValues>(props: FieldProps<T>) {
  const { label, help, also = [], sx } = props;
  const name: string = props.name;
  const { field } = useController({ name });
  const { getFieldState, formState } = useFormContext();
  const wrong = [name, ...also].map((path) => getFieldState(path, formState).error?.message).find(Boolean);
  const box = {
    label,
    name,
    error: wrong !== undefined,
    helperText: wrong ?? help ?? "",
    inputRef: field.ref,
    onBlur: field.onBlur,
    ...(sx && { sx }),
    ...(props.autoFocus && { autoFocus: true }),
  };
  switch (props.as) {
    case "number":
    case "percent": {
      const read = props.as === "percent" ? typedPercent : typedOrNone;
      const empty = props.empty ?? null;
      return (
        <ReadBox
          box={box}
          value={field.value}
          empty={empty}
          read={(text) => read(text) ?? empty}
          onChange={field.onChange}
        />
      );
    }
    case "choice":
      return (
        <TextField
          {...box}
          select
          value={String(field.value ?? "")}
          slotProps={{
            select: { displayEmpty: true },
            inputLabel: { shrink: props.options.some(([value]) => value === null) || field.value != null },
          }}
          onChange={(e) => {
            const chosen = props.options.find(([value]) => String(value ?? "") === e.target.value)?.[0] ?? null;
            field.onChange(chosen);
            props.onChosen?.(chosen);
          }}
        >
          {props.options.map(([value, words]) => (
            <MenuItem key={String(value)} value={String(value ?? "")}>
              {words}
            </MenuItem>
          ))}
        </TextField>
      );
    case "tick":
      return (
        <FormControlLabel
          sx={sx ?? {}}
          control={
            <Checkbox checked={field.value ?? false} onChange={(e) => field.onChange(e.target.checked)} name={name} />
          }
          label={label}
        />
      );
    case "day":
      return <DayField label={label} value={field.value ?? ""} error={wrong} help={help} onChange={field.onChange} />;
    case "time":
      return (
        <TimeField
          label={label}
          value={field.value ?? props.usual ?? ""}
          error={wrong}
          help={help}
          onChange={field.onChange}
        />
      );
    case "list":
      return (
        <ReadBox
          box={box}
          value={field.value}
          empty={null}
          read={(text) =>
            text
              .split(",")
              .map((one) => one.trim())
              .filter(Boolean)
          }
          onChange={field.onChange}
        />
      );
    default:
      return (
        <TextField
          {...box}
          {...(props.as === "lines" && { multiline: true, minRows: 2 })}
          value={field.value ?? ""}
          onChange={field.onChange}
        />
      );
  }
}

/** What is read keeps the way it was typed as long as that is what it was read as. */
function ReadBox({
  box,
  value,
  empty,
  read,
  onChange,
}: {
  box: Record<string, unknown>;
  value: unknown;
  empty: null | 0;
  read: (text: string) => unknown;
  onChange: (value: unknown) => void;
}) {
  const shown = value == null || value === empty ? "" : Array.isArray(value) ? value.join(", ") : String(value);
  const [text, setText] = useState(shown);
  // What was decided elsewhere replaces what stands here.
  const stands = JSON.stringify(read(text)) === JSON.stringify(value) ? text : shown;
  return (
    <TextField
      {...box}
      inputMode="decimal"
      value={stands}
      onChange={(e) => {
        setText(e.target.value);
        onChange(read(e.target.value));
      }}
    />
  );
}
