import { TextField, type TextFieldProps } from "@mui/material";
import { useState } from "react";

/** A text field whose text counts once it is left, or with Enter: nothing is asked anew at every key. */
export function CommitField({
  text,
  onCommit,
  ...field
}: Omit<TextFieldProps, "value" | "defaultValue" | "onChange"> & { text: string; onCommit: (text: string) => void }) {
  const [typed, setTyped] = useState(text);
  const [was, setWas] = useState(text);
  // What was decided elsewhere replaces what stands here.
  if (was !== text) {
    setWas(text);
    setTyped(text);
  }
  const commit = () => typed !== text && onCommit(typed);
  return (
    <TextField
      {...field}
      value={typed}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={commit}
      onKeyDown={(e) => e.key === "Enter" && commit()}
    />
  );
}
