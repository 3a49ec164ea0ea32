import { AdapterDayjs } from "@mui/x-date-pickers/AdapterDayjs";
import { LocalizationProvider } from "@mui/x-date-pickers/LocalizationProvider";
import { TimeField } from "@mui/x-date-pickers/TimeField";
import dayjs, { type Dayjs } from "dayjs";
import { useState } from "react";
import type { TimeProps } from "./pickers";
import { useHour12 } from "./useClock";

const timeOf = (at: Dayjs | null) => (at?.isValid() ? at.format("HH:mm:00") : "");

/** The field itself; it is heavy, and loads only where a time is asked for. */
export function TimePicker({ label, value, error, help, onChange }: TimeProps) {
  const hour12 = useHour12();
  // A time that is only half typed is none yet, but stays in sight.
  const [typed, setTyped] = useState<Dayjs | null>(null);
  const shown = typed !== null && timeOf(typed) === value ? typed : value === "" ? null : dayjs(`2026-01-01T${value}`);
  return (
    <LocalizationProvider dateAdapter={AdapterDayjs}>
      <TimeField
        label={label}
        ampm={hour12}
        value={shown}
        onChange={(at) => {
          setTyped(at);
          onChange(timeOf(at));
        }}
        clearable
        size="small"
        error={error !== undefined}
        helperText={error ?? help}
        sx={{ width: 190, maxWidth: "100%" }}
      />
    </LocalizationProvider>
  );
}
