import { Box, Button, Paper, Slider, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { queries } from "../api/queries";
import { TwoFutures } from "../pictures/TwoFutures";
import { ErrorNotice } from "../ui/Notices";
import { Stepper } from "../ui/Stepper";
import { Touches } from "../ui/Touches";

/** Another water, a filter, another habit: two futures on one time line. */
export function WhatIf({ id, draft }: { id: string; draft: Schemas["BrewerDraft"] }) {
  const [open, setOpen] = useState(false);
  return (
    <Paper component="section" aria-label="What if" sx={{ p: { xs: 2, md: 3 } }}>
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

/** Waters to touch; the rest are on the Waters page. */
const touchable = 8;

function Trial({ id, draft }: { id: string; draft: Schemas["BrewerDraft"] }) {
  const waters = useQuery(queries.household()).data?.waters ?? [];
  const [water, setWater] = useState(draft.water_id);
  const [filter, setFilter] = useState(draft.filter ? (draft.filter_takes_out ?? 0) : 0);
  const [drawn, setDrawn] = useState(filter);
  const [weekday, setWeekday] = useState(draft.weekday_cups);
  const [weekend, setWeekend] = useState(draft.weekend_cups);
  const query = useQuery(
    queries.whatIf(id, {
      water_id: water === draft.water_id ? null : water,
      filter_takes_out: draft.filter || filter > 0 ? filter : null,
      weekday_cups: weekday,
      weekend_cups: weekend,
    }),
  );
  const both = query.error ? undefined : query.data;
  const mine = waters.filter((w) => w.water.id === draft.water_id);
  const others = waters.filter((w) => w.water.id !== draft.water_id);
  return (
    <Stack spacing={2} sx={{ pt: 2 }}>
      <Touches
        title="With this water"
        choices={[...mine, ...others].slice(0, touchable).map(({ water: w }) => [w.id, w.name] as const)}
        chosen={[water]}
        onTouch={setWater}
      />
      <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr 1.4fr" } }}>
        {(
          [
            ["Cups a day, Mon–Fri", weekday, setWeekday],
            ["Cups a day, weekend", weekend, setWeekend],
          ] as const
        ).map(([label, value, set]) => (
          <Box key={label}>
            <Typography sx={{ fontWeight: 700 }}>{label}</Typography>
            <Stepper label={label} value={value} most={60} onStep={set} />
          </Box>
        ))}
        <Box sx={{ px: 1.5 }}>
          <Typography id="filter-takes-out" sx={{ fontWeight: 700 }}>
            A filter takes out {drawn} %
          </Typography>
          <Slider
            aria-labelledby="filter-takes-out"
            value={drawn}
            min={0}
            max={90}
            step={5}
            onChange={(_, value) => setDrawn(value as number)}
            onChangeCommitted={(_, value) => setFilter(value as number)}
          />
          <Typography variant="body2" color="textSecondary">
            Of carbonate hardness, when new
          </Typography>
        </Box>
      </Box>
      <ErrorNotice error={query.error} />
      {both && (
        <>
          <TwoFutures now={both.now} then={both.then} />
          <Typography role="status" sx={{ fontSize: "1.2rem" }}>
            <strong>{both.text}</strong>
          </Typography>
          {[both.now, both.then].some((interval) => interval.cost_text) && (
            <Typography>
              As it is: {both.now.cost_text || "no price known"}. As it would be:{" "}
              {both.then.cost_text || "no price known"}.
            </Typography>
          )}
        </>
      )}
    </Stack>
  );
}
