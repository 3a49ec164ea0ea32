import {
  Box,
  Button,
  Checkbox,
  FormControlLabel,
  IconButton,
  Paper,
  Stack,
  TextField,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { Refused, type Schemas } from "../api/client";
import { typed } from "../ui/typed";

/** What a visit took and is worth: suggested lines that one edits, or a gift. Without `close` it is only shown. */
export function CloseVisit({
  worth,
  error,
  close,
}: {
  worth: Schemas["WorthView"];
  error?: Error | null;
  close?: (bill: Schemas["Bill"]) => void;
}) {
  const [bill, setBill] = useState(worth.bill);
  const fields = error instanceof Refused ? error.fields : {};
  const lines = bill.lines;
  const set = (n: number, change: Partial<Schemas["BillLine"]>) =>
    setBill({ ...bill, lines: lines.map((line, i) => (i === n ? { ...line, ...change } : line)) });
  if (!close)
    return (
      <Paper component="section" aria-label="Price" sx={{ p: 2 }}>
        <Typography variant="h2">{worth.bill.is_gift ? "A gift" : `Price: ${worth.total_text}`}</Typography>
        {worth.lines.map((line) => (
          <Typography key={line} sx={{ textDecoration: worth.bill.is_gift ? "line-through" : "none" }}>
            {line}
          </Typography>
        ))}
      </Paper>
    );
  return (
    <Paper component="section" aria-label="Price" sx={{ p: 2 }}>
      <Typography variant="h2">Close the visit</Typography>
      <Typography sx={{ my: 1 }}>{worth.text}.</Typography>
      {lines.length === 0 && (
        <Typography color="textSecondary">
          Nothing is charged by itself. Say under Household what an hour of your work is worth, or add a line.
        </Typography>
      )}
      <Stack spacing={1.5} sx={{ my: 1 }}>
        {lines.map((line, n) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a line has no identity but its place
          <Stack key={n} direction="row" spacing={1} sx={{ alignItems: "flex-start" }}>
            <TextField
              label={`Line ${n + 1}`}
              value={line.what}
              error={`what.bill.lines.${n}.what` in fields}
              helperText={fields[`what.bill.lines.${n}.what`]}
              onChange={(e) => set(n, { what: e.target.value })}
            />
            <TextField
              label={`Amount of line ${n + 1}${worth.currency ? `, ${worth.currency}` : ""}`}
              inputMode="decimal"
              defaultValue={line.amount}
              error={`what.bill.lines.${n}.amount` in fields}
              helperText={fields[`what.bill.lines.${n}.amount`]}
              sx={{ maxWidth: 200 }}
              onChange={(e) => set(n, { amount: typed(e.target.value) as number })}
            />
            <IconButton
              aria-label={`Take line ${n + 1} out`}
              sx={{ width: 44, height: 44 }}
              onClick={() => setBill({ ...bill, lines: lines.filter((_, i) => i !== n) })}
            >
              ×
            </IconButton>
          </Stack>
        ))}
        <Button
          variant="outlined"
          sx={{ alignSelf: "flex-start" }}
          onClick={() => setBill({ ...bill, lines: [...lines, { what: "", amount: 0 }] })}
        >
          Add a line
        </Button>
        <FormControlLabel
          control={
            <Checkbox
              checked={bill.is_gift ?? false}
              onChange={(e) => setBill({ ...bill, is_gift: e.target.checked })}
            />
          }
          label="It is a gift"
        />
      </Stack>
      {error && !(error instanceof Refused && Object.keys(fields).length > 0) && (
        <Typography color="error">{error.message}</Typography>
      )}
      <Box>
        <Button variant="contained" size="large" onClick={() => close(bill)}>
          Close the visit
        </Button>
      </Box>
    </Paper>
  );
}
