import { TextField } from "@mui/material";
import { lazy, Suspense } from "react";

export interface DayProps {
  label: string;
  /** "2026-11-10"; empty where no day is given. */
  value: string;
  error?: string | undefined;
  help?: string | undefined;
  /** The day as it stands, once it is a whole one; empty when it was taken out. */
  onChange: (day: string) => void;
  width?: number;
}

const DayPicker = lazy(() => import("./DayPicker").then((m) => ({ default: m.DayPicker })));

/** A day, picked or typed, in one form that can be read only one way: "10 Nov 2026". */
export function DayField(props: DayProps) {
  return (
    <Suspense fallback={<TextField label={props.label} value="" disabled helperText={props.help} />}>
      <DayPicker {...props} />
    </Suspense>
  );
}
