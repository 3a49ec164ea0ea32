import { Box, Button, MenuItem, Paper, Stack, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { Refused, type Schemas } from "../api/client";
import { queries } from "../api/queries";
import { Pour } from "../pictures/Pour";
import { tools } from "../plan/tools";
import { CopyButton } from "../ui/CopyButton";
import { ErrorNotice, Page, Ready } from "../ui/Notices";
import { useHints } from "../ui/useHints";
import { draftOf, type Shared } from "./shared";
import { Unmeasured } from "./Unmeasured";

/** A bath without a brewer; the address holds all choices, so that it can be sent to somebody. */
export function MixPage() {
  return (
    <Page title="Mix">
      <Ready query={useQuery(queries.household())}>{(household) => <Bench household={household} />}</Ready>
    </Page>
  );
}

function Bench({ household }: { household: Schemas["HouseholdView"] }) {
  const [search, setSearch] = useSearchParams();
  const given: Shared = Object.fromEntries(search);
  const hints = useHints();
  const query = useQuery(queries.mix(draftOf(given, household.settings.units)));
  const [mixed, setMixed] = useState<Schemas["BenchMix"]>();
  if (query.data && query.data !== mixed) setMixed(query.data);
  const mix = query.data ?? mixed;
  const fields = query.error instanceof Refused ? query.error.fields : {};
  const draft = draftOf(given, household.settings.units);
  const set = (change: Shared) => {
    // The address is ahead of what is drawn when two choices follow each other quickly.
    const now = Object.fromEntries(new URLSearchParams(window.location.search));
    const next = Object.entries({ ...now, ...change }).filter(([, value]) => value !== "");
    setSearch(Object.fromEntries(next) as Record<string, string>, { replace: true });
  };
  const recipe = mix?.recipes.findIndex((r) => JSON.stringify(r.recipe) === JSON.stringify(mix.recipe)) ?? -1;
  return (
    <Stack spacing={2}>
      <Paper sx={{ p: 2 }}>
        <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr 1fr", md: "repeat(3, 1fr)" } }}>
          <TextField
            select
            label="Agent"
            value={household.agents.some((a) => a.id === draft.agent_id) ? draft.agent_id : ""}
            error={"agent_id" in fields}
            helperText={fields.agent_id}
            onChange={(e) => set({ agent: e.target.value, recipe: "", percent: "" })}
          >
            {household.agents.map((agent) => (
              <MenuItem key={agent.id} value={agent.id}>
                {agent.name}
              </MenuItem>
            ))}
          </TextField>
          {(mix?.percent != null || given.percent) && (
            <TextField
              label="Strength on the label, %"
              value={given.percent ?? ""}
              placeholder={String(mix?.percent ?? "")}
              error={"percent" in fields}
              helperText={fields.percent}
              inputMode="decimal"
              onChange={(e) => set({ percent: e.target.value })}
              slotProps={{ inputLabel: { shrink: true } }}
            />
          )}
          <TextField
            select
            label="Recipe"
            value={recipe < 0 ? "" : recipe}
            error={"recipe" in fields}
            helperText={fields.recipe}
            onChange={(e) => set({ recipe: JSON.stringify(mix?.recipes[Number(e.target.value)]?.recipe) })}
          >
            {(mix?.recipes ?? []).map((r, i) => (
              <MenuItem key={r.label} value={i}>
                {r.label}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            select
            label="Measure with"
            value={draft.measure}
            error={"measure" in fields}
            helperText={fields.measure}
            onChange={(e) => set({ measure: e.target.value })}
          >
            {[...new Set([...household.tools, draft.measure])].map((tool) => (
              <MenuItem key={tool} value={tool}>
                {tools[tool]}
              </MenuItem>
            ))}
          </TextField>
          {(draft.measure === "carafe_marks" || draft.measure === "reservoir_lines") && (
            <TextField
              label={draft.measure === "carafe_marks" ? "One carafe mark" : "One reservoir line"}
              value={given.mark ?? draft.carafe_mark}
              error={"carafe_mark" in fields}
              helperText={fields.carafe_mark ?? hints.mark}
              onChange={(e) => set({ mark: e.target.value })}
            />
          )}
          <TextField
            label="All of it"
            value={given.total ?? draft.total}
            error={"total" in fields}
            helperText={fields.total ?? hints.volume}
            onChange={(e) => set({ total: e.target.value })}
          />
        </Box>
      </Paper>
      {query.error && Object.keys(fields).length === 0 && <ErrorNotice error={query.error} />}
      {mix && (
        <Paper sx={{ p: 2 }}>
          <Stack direction={{ xs: "column", md: "row" }} spacing={3}>
            <Pour bath={mix.bath} />
            <Stack spacing={1}>
              <Typography sx={{ fontSize: "1.6rem", fontWeight: 700 }}>
                {mix.bath.agent_words}
                {mix.bath.water.ml > 1 && `, ${mix.bath.water.text} of water`}
              </Typography>
              <Typography>
                {mix.bath.percent.toFixed(1)} % acid{mix.bath.actual_ratio && `, really ${mix.bath.actual_ratio}`}, pH{" "}
                {mix.bath.ph.toFixed(1)} when fresh.
              </Typography>
              <Typography>It {mix.bath.useful_text}.</Typography>
              {mix.warnings.map((warning) => (
                <Typography key={warning}>
                  <strong>Careful: </strong>
                  {warning}
                </Typography>
              ))}
              <Typography color="textSecondary">
                Open a window; keep acid off marble, limestone and bare metal, away from children and pets. Never mix it
                with bleach or other cleaners. The agent is rounded up to a mark, so the bath is never weaker than
                asked.
              </Typography>
              <Stack direction="row" spacing={1}>
                <CopyButton label="Copy a link to this mix" text={window.location.href} />
                <Button variant="outlined" onClick={() => window.print()}>
                  Print
                </Button>
              </Stack>
            </Stack>
          </Stack>
        </Paper>
      )}
      <Unmeasured agents={household.agents} us={household.settings.units === "us"} />
    </Stack>
  );
}
