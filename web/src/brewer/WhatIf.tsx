import { Box, Button, MenuItem, Paper, Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { Refused, type Schemas, useHousehold, useWhatIf } from "../api/client";
import { ErrorNotice } from "../ui/Notices";
import { typedOrNone, typedPercent } from "../ui/typed";

/** Another water, a filter, another habit: now and then, side by side. */
export function WhatIf({ id, draft }: { id: string; draft: Schemas["BrewerDraft"] }) {
  const [open, setOpen] = useState(false);
  return (
    <Paper component="section" sx={{ p: { xs: 2, md: 3 } }}>
      <Stack direction="row" sx={{ justifyContent: "space-between", alignItems: "center", gap: 1, flexWrap: "wrap" }}>
        <Typography variant="h2">What if</Typography>
        <Button variant="outlined" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? "Close" : "Try another water, filter or habit"}
        </Button>
      </Stack>
      {open && <Trial id={id} draft={draft} />}
    </Paper>
  );
}

function Trial({ id, draft }: { id: string; draft: Schemas["BrewerDraft"] }) {
  const household = useHousehold();
  const [water, setWater] = useState(draft.water_id);
  const [filter, setFilter] = useState(draft.filter ? String(draft.filter_takes_out) : "");
  const [weekday, setWeekday] = useState(String(draft.weekday_cups));
  const [weekend, setWeekend] = useState(String(draft.weekend_cups));
  const query = useWhatIf(id, {
    water_id: water === draft.water_id ? null : water,
    filter_takes_out: typedPercent(filter),
    weekday_cups: typedOrNone(weekday),
    weekend_cups: typedOrNone(weekend),
  });
  const fields = query.error instanceof Refused ? query.error.fields : {};
  const field = (name: string, label: string, value: string, set: (text: string) => void, help: string) => (
    <TextField
      label={label}
      inputMode="decimal"
      value={value}
      error={name in fields}
      helperText={fields[name] ?? help}
      onChange={(e) => set(e.target.value)}
    />
  );
  const both = query.error ? undefined : query.data;
  return (
    <Stack spacing={2} sx={{ pt: 2 }}>
      <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr", lg: "2fr 1fr 1fr 1fr" } }}>
        <TextField select label="With this water" value={water} onChange={(e) => setWater(e.target.value)}>
          {(household.data?.waters ?? []).map((w) => (
            <MenuItem key={w.water.id} value={w.water.id}>
              {w.water.name}
            </MenuItem>
          ))}
        </TextField>
        {field("filter_takes_out", "Filter takes out, %", filter, setFilter, "Of carbonate hardness, when new")}
        {field("weekday_cups", "Cups a day, Mon–Fri", weekday, setWeekday, "")}
        {field("weekend_cups", "Cups a day, weekend", weekend, setWeekend, "")}
      </Box>
      {Object.keys(fields).length === 0 && <ErrorNotice error={query.error} />}
      {both && (
        <>
          <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" } }}>
            {(
              [
                ["As it is", both.now],
                ["As it would be", both.then],
              ] as const
            ).map(([title, interval]) => (
              <Box key={title} sx={{ borderLeft: 4, borderColor: "primary.main", pl: 2 }}>
                <Typography color="textSecondary">{title}</Typography>
                <Typography sx={{ fontSize: "1.8rem", fontWeight: 700, lineHeight: 1.2 }}>
                  {interval.days} days
                </Typography>
                <Typography>
                  {interval.text}; {interval.a_year_text}
                </Typography>
                {interval.cost_text && <Typography>{interval.cost_text}</Typography>}
              </Box>
            ))}
          </Box>
          <Typography role="status">
            <strong>{both.text}</strong>
          </Typography>
        </>
      )}
    </Stack>
  );
}
