import {
  Alert,
  Box,
  Button,
  Checkbox,
  FormControlLabel,
  MenuItem,
  Paper,
  Stack,
  TextField,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { Refused, type Schemas, send, useChange } from "../api/client";
import { queries } from "../api/queries";
import { ErrorNotice, Page, Ready } from "../ui/Notices";
import { typedOrNone } from "../ui/typed";

export function HouseholdPage() {
  return (
    <Page title="Household">
      <Ready query={useQuery(queries.household())}>
        {(household) => (
          <Stack spacing={2}>
            <SettingsForm key={JSON.stringify(household.settings)} settings={household.settings} />
            <Travel empty={household.empty} />
            <PutAway />
            <OwnPace pace={household.pace} settings={household.settings} today={household.today} />
            {household.backups && <Backups backups={household.backups} />}
          </Stack>
        )}
      </Ready>
    </Page>
  );
}

function SettingsForm({ settings }: { settings: Schemas["Settings"] }) {
  const [typed, setDraft] = useState(settings);
  // The own pace is begun anew by a button of its own.
  const draft = { ...typed, pace_after: settings.pace_after };
  const save = useChange(send.settings);
  const fields = save.error instanceof Refused ? save.error.fields : {};
  return (
    <Section title="Settings">
      <Group name="Reading">
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
          label="Times are written"
          value={draft.clock ?? "usual"}
          onChange={(e) => setDraft({ ...draft, clock: e.target.value as Schemas["Clock"] })}
        >
          <MenuItem value="usual">As usual with these units</MenuItem>
          <MenuItem value="12">With 12 hours, 3:05 PM</MenuItem>
          <MenuItem value="24">With 24 hours, 15:05</MenuItem>
        </TextField>
        <TextField
          label="Time zone"
          value={draft.time_zone}
          error={"time_zone" in fields}
          helperText={fields.time_zone ?? "Whose days count: Europe/Lisbon, UTC"}
          onChange={(e) => setDraft({ ...draft, time_zone: e.target.value })}
        />
      </Group>
      <Group name="Tasting and smelling">
        <TextField
          select
          label="Rinse for"
          value={draft.taste}
          onChange={(e) => setDraft({ ...draft, taste: e.target.value as Schemas["Taste"] })}
        >
          <MenuItem value="usual">Most people</MenuItem>
          <MenuItem value="strict">A keen nose</MenuItem>
        </TextField>
        <FormControlLabel
          control={
            <Checkbox
              checked={draft.avoid_smell ?? false}
              onChange={(e) => setDraft({ ...draft, avoid_smell: e.target.checked })}
            />
          }
          label="Avoid agents that smell"
        />
      </Group>
      <Group name="Asking and keys">
        <TextField
          select
          label="Ask me for"
          value={draft.asks ?? "usual"}
          helperText="Small works on today's list"
          onChange={(e) => setDraft({ ...draft, asks: e.target.value as Schemas["Asks"] })}
        >
          <MenuItem value="needed">Only what keeps it running</MenuItem>
          <MenuItem value="usual">What most people do</MenuItem>
          <MenuItem value="all">All of it</MenuItem>
        </TextField>
        <FormControlLabel
          control={
            <Checkbox checked={!draft.keys_off} onChange={(e) => setDraft({ ...draft, keys_off: !e.target.checked })} />
          }
          label="Single keys act (digits go to places; Space, Backspace and letters in a clean)"
        />
      </Group>
      <Group name="Money">
        <TextField
          label="Money is written with"
          value={draft.currency ?? ""}
          error={"currency" in fields}
          helperText={fields.currency ?? "$, £, EUR"}
          onChange={(e) => setDraft({ ...draft, currency: e.target.value })}
        />
        <TextField
          label="An hour of your work is worth"
          defaultValue={draft.hourly_rate ?? ""}
          inputMode="decimal"
          error={"hourly_rate" in fields}
          helperText={fields.hourly_rate ?? "Leave empty to keep your time out of the costs"}
          onChange={(e) => setDraft({ ...draft, hourly_rate: typedOrNone(e.target.value) })}
        />
      </Group>
      <Box>
        <Button
          variant="contained"
          disabled={JSON.stringify(draft) === JSON.stringify(settings)}
          onClick={() => save.mutate(draft)}
        >
          Save
        </Button>
      </Box>
      {Object.keys(fields).length === 0 && <ErrorNotice error={save.error} />}
    </Section>
  );
}

/** Settings that belong together. */
function Group({ name, children }: { name: string; children: ReactNode }) {
  return (
    <Box component="fieldset" sx={{ border: 0, p: 0, m: 0, mt: 2, minWidth: 0 }}>
      <Typography component="legend" sx={{ fontWeight: 700, p: 0 }}>
        {name}
      </Typography>
      <Box
        sx={{
          display: "grid",
          gap: 2,
          gridTemplateColumns: { xs: "1fr", sm: "repeat(3, 1fr)" },
          pt: 1,
          alignItems: "start",
        }}
      >
        {children}
      </Box>
    </Box>
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

/** How long steps take here, as cleans have shown it; taken back with one press. */
function OwnPace({
  pace,
  settings,
  today,
}: {
  pace: Schemas["PaceLine"][];
  settings: Schemas["Settings"];
  today: string;
}) {
  const save = useChange(send.settings);
  const families = [...new Set(pace.map((line) => line.family))];
  return (
    <Section title="Your own pace">
      <Typography>
        {pace.length > 0
          ? "Plans reckon with the minutes that your own cleans took. Breaks are left out."
          : "Plans reckon with usual minutes until your own cleans have shown how long you take."}
      </Typography>
      {families.map((family) => (
        <Box key={family}>
          <Typography sx={{ fontWeight: 700 }}>{family}</Typography>
          <Box component="ul" sx={{ m: 0, pl: 2.5, columns: { md: 2 } }}>
            {pace
              .filter((line) => line.family === family)
              .map((line) => (
                <Typography key={line.text} component="li">
                  {line.text}
                </Typography>
              ))}
          </Box>
        </Box>
      ))}
      <Stack direction="row" spacing={1}>
        {pace.length > 0 && (
          <Button variant="outlined" onClick={() => save.mutate({ ...settings, pace_after: today })}>
            Go back to usual minutes
          </Button>
        )}
        {settings.pace_after && (
          <Button onClick={() => save.mutate({ ...settings, pace_after: null })}>Use all that was learned again</Button>
        )}
      </Stack>
      <ErrorNotice error={save.error} />
    </Section>
  );
}

const putAwayWords: Record<Schemas["PutAwayKind"], string> = {
  brewer: "brewer",
  water: "water",
  agent: "agent",
  past_clean: "told clean",
};

/** Everything put away, to be brought back on any later day. */
function PutAway() {
  const archive = useQuery(queries.archive());
  const restore = useChange(({ kind, id }: Schemas["PutAway"]) => send.bringBack(kind, id));
  return (
    <Section title="Put away">
      <Ready query={archive}>
        {(all) =>
          all.length === 0 ? (
            <Typography>Nothing is put away. What you put away stays here until you bring it back.</Typography>
          ) : (
            <Stack component="ul" sx={{ listStyle: "none", p: 0, m: 0 }}>
              {all.map((thing) => (
                <Stack
                  component="li"
                  key={thing.kind + thing.id}
                  direction="row"
                  sx={{ justifyContent: "space-between", alignItems: "center", borderTop: 1, borderColor: "divider" }}
                >
                  <Typography sx={{ overflowWrap: "anywhere", minWidth: 0 }}>
                    {thing.name}{" "}
                    <Typography component="span" color="textSecondary">
                      {putAwayWords[thing.kind]}
                    </Typography>
                  </Typography>
                  <Button
                    aria-label={`Bring ${thing.name} back`}
                    disabled={restore.isPending}
                    onClick={() => restore.mutate(thing)}
                  >
                    Bring back
                  </Button>
                </Stack>
              ))}
            </Stack>
          )
        }
      </Ready>
      <ErrorNotice error={restore.error} />
    </Section>
  );
}

function Backups({ backups }: { backups: Schemas["BackupsView"] }) {
  return (
    <Section title="Backups">
      <Typography>Murlo copies this household once a day by itself. {backups.text}</Typography>
      {backups.is_stale && (
        <Alert severity="warning" variant="outlined">
          No copy was made lately. Look whether the disk is full, then start Murlo again.
        </Alert>
      )}
      <Typography color="textSecondary" sx={{ overflowWrap: "anywhere" }}>
        On the machine that serves, in {backups.folder}. <code>murlo restore</code> puts one back; the README says how.
      </Typography>
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
