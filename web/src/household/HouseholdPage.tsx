import { Box, Button, Checkbox, FormControlLabel, MenuItem, Paper, Stack, TextField, Typography } from "@mui/material";
import { type ReactNode, useState } from "react";
import { Refused, type Schemas, send, useChange, useHousehold } from "../api/client";
import { ErrorNotice, Page, Ready } from "../ui/Notices";

export function HouseholdPage() {
  return (
    <Page title="Household">
      <Ready query={useHousehold()}>
        {(household) => (
          <Stack spacing={2}>
            <SettingsForm key={JSON.stringify(household.settings)} settings={household.settings} />
            <Section title="Agents">
              {household.agents.map((agent) => (
                <AgentLine key={agent.id} agent={agent} />
              ))}
            </Section>
            <Travel empty={household.empty} />
          </Stack>
        )}
      </Ready>
    </Page>
  );
}

function SettingsForm({ settings }: { settings: Schemas["Settings"] }) {
  const [draft, setDraft] = useState(settings);
  const save = useChange(send.settings);
  const fields = save.error instanceof Refused ? save.error.fields : {};
  return (
    <Section title="Reading and tasting">
      <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr", sm: "repeat(3, 1fr)" }, pt: 1 }}>
        <TextField
          select
          label="Units"
          value={draft.units}
          onChange={(e) => setDraft({ ...draft, units: e.target.value as Schemas["Units"] })}
        >
          <MenuItem value="us">Cups and fluid ounces</MenuItem>
          <MenuItem value="metric">Millilitres and litres</MenuItem>
        </TextField>
        <TextField
          select
          label="Rinse for"
          value={draft.taste}
          onChange={(e) => setDraft({ ...draft, taste: e.target.value as Schemas["Taste"] })}
        >
          <MenuItem value="usual">Most people</MenuItem>
          <MenuItem value="strict">A keen nose</MenuItem>
        </TextField>
        <TextField
          label="Time zone"
          value={draft.time_zone}
          error={"time_zone" in fields}
          helperText={fields.time_zone ?? "Whose days count: Europe/Lisbon, UTC"}
          onChange={(e) => setDraft({ ...draft, time_zone: e.target.value })}
        />
      </Box>
      <Box>
        <Button
          variant="contained"
          disabled={JSON.stringify(draft) === JSON.stringify(settings)}
          onClick={() => save.mutate(draft)}
        >
          Save
        </Button>
      </Box>
    </Section>
  );
}

function AgentLine({ agent }: { agent: Schemas["Agent"] }) {
  const save = useChange(send.agent);
  const [percent, setPercent] = useState("percent" in agent ? String(agent.percent) : "");
  const number = Number(percent.replace(",", ".") || "NaN");
  const fields = save.error instanceof Refused ? save.error.fields : {};
  return (
    <Stack direction="row" sx={{ gap: 2, alignItems: "flex-start", flexWrap: "wrap" }}>
      <Typography sx={{ minWidth: 290, pt: 1 }}>
        <strong>{agent.name}</strong>, {agent.acid.replaceAll("_", " ")} acid
      </Typography>
      {"percent" in agent ? (
        <>
          <TextField
            label="Strength on the label, %"
            sx={{ maxWidth: 220 }}
            value={percent}
            inputMode="decimal"
            error={"percent" in fields}
            helperText={fields.percent}
            onChange={(e) => setPercent(e.target.value)}
          />
          <Button disabled={number === agent.percent} onClick={() => save.mutate({ ...agent, percent: number })}>
            Save strength
          </Button>
        </>
      ) : (
        <Typography sx={{ pt: 1 }}>powder, dosed in grams a litre</Typography>
      )}
    </Stack>
  );
}

function Travel({ empty }: { empty: boolean }) {
  const [replace, setReplace] = useState(false);
  const [taken, setTaken] = useState(false);
  const take = useChange((file: File) => file.text().then((text) => send.import(text, replace)));
  const lines = take.error instanceof Refused ? Object.entries(take.error.fields) : [];
  return (
    <Section title="Take it with you">
      <Typography>Everything this household has told Murlo is one JSON file, in an open format.</Typography>
      <Stack direction="row" sx={{ gap: 2, flexWrap: "wrap", alignItems: "center" }}>
        <Button variant="outlined" href="/api/export" download="murlo-household.json">
          Export everything
        </Button>
        <Button variant="outlined" component="label" disabled={!empty && !replace}>
          Import a file
          <input
            type="file"
            accept="application/json,.json"
            hidden
            onChange={(e) => {
              const file = e.target.files?.[0];
              if (file) take.mutate(file, { onSuccess: () => setTaken(true) });
              e.target.value = "";
            }}
          />
        </Button>
        {!empty && (
          <FormControlLabel
            control={<Checkbox checked={replace} onChange={(e) => setReplace(e.target.checked)} />}
            label="Replace what is here; a backup is made first"
          />
        )}
      </Stack>
      {taken && !take.error && <Typography role="status">The file was taken in, whole.</Typography>}
      <ErrorNotice error={take.error} />
      {lines.slice(0, 20).map(([field, message]) => (
        <Typography key={field}>
          {field}: {message}
        </Typography>
      ))}
    </Section>
  );
}

function Section({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Paper component="section" sx={{ p: 2 }}>
      <Typography variant="h2" gutterBottom>
        {title}
      </Typography>
      <Stack spacing={1.5}>{children}</Stack>
    </Paper>
  );
}
