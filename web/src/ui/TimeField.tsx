import { TextField } from "@mui/material";
import { lazy, Suspense } from "react";
import type { TimeProps } from "./pickers";

const TimePicker = lazy(() => import("./TimePicker").then((m) => ({ default: m.TimePicker })));

/** A time of day, written as the household writes them. */
export function TimeField(props: TimeProps) {
  return (
    <Suspense fallback={<TextField label={props.label} value="" disabled helperText={props.help} />}>
      <TimePicker {...props} />
    </Suspense>
  );
}
