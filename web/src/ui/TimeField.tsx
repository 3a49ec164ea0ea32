import { TextField } from "@mui/material";
import { lazy, Suspense } from "react";

export interface TimeProps {
  label: string;
  /** "09:30:00"; empty where no time is given. */
  value: string;
  error?: string | undefined;
  help?: string | undefined;
  onChange: (time: string) => void;
}

const TimePicker = lazy(() => import("./TimePicker").then((m) => ({ default: m.TimePicker })));

/** A time of day, written as the household writes them. */
export function TimeField(props: TimeProps) {
  return (
    <Suspense fallback={<TextField label={props.label} value="" disabled helperText={props.help} />}>
      <TimePicker {...props} />
    </Suspense>
  );
}
