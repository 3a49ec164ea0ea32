import { TextField } from "@mui/material";
import { lazy, Suspense } from "react";
import type { DayProps } from "./pickers";

const DayPicker = lazy(() => import("./DayPicker").then((m) => ({ default: m.DayPicker })));

/** A day, picked or typed, in one form that can be read only one way: "10 Nov 2026". */
export function DayField(props: DayProps) {
  return (
    <Suspense fallback={<TextField label={props.label} value="" disabled helperText={props.help} />}>
      <DayPicker {...props} />
    </Suspense>
  );
}
