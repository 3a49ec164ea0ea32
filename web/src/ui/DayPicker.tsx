import { AdapterDayjs } from "@mui/x-date-pickers/AdapterDayjs";
import { DatePicker } from "@mui/x-date-pickers/DatePicker";
import { LocalizationProvider } from "@mui/x-date-pickers/LocalizationProvider";
import dayjs, { type Dayjs } from "dayjs";
import { useState } from "react";
import type { DayProps } from "./pickers";

const isoOf = (day: Dayjs | null) => (day?.isValid() && day.year() > 1900 ? day.format("YYYY-MM-DD") : "");

/** The picker itself; it is heavy, and loads only where a day is asked for. */
export function DayPicker({ label, value, error, help, onChange, width = 240 }: DayProps) {
  // A day that is only half typed is no day yet, but stays in sight.
  const [typed, setTyped] = useState<Dayjs | null>(null);
  const shown = typed !== null && isoOf(typed) === value ? typed : value === "" ? null : dayjs(value);
  return (
    <LocalizationProvider dateAdapter={AdapterDayjs}>
      <DatePicker
        label={label}
        // The month as a word: no order of figures can be taken for another.
        format="D MMM YYYY"
        value={shown}
        onChange={(day) => {
          setTyped(day);
          onChange(isoOf(day));
        }}
        sx={{ width, maxWidth: "100%" }}
        slotProps={{
          textField: { size: "small", error: error !== undefined, helperText: error ?? help },
          field: { clearable: true },
        }}
      />
    </LocalizationProvider>
  );
}
