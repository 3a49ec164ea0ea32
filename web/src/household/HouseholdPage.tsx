import {
  Alert,
  Box,
  Button,
  Checkbox,
  FormControlLabel,
  LinearProgress,
  Paper,
  Stack,
  TextField,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { FormProvider, useController } from "react-hook-form";
import { Refused, type Schemas, send, useChange } from "../api/client";
import { queries } from "../api/queries";
import { DevicesView } from "../devices/DevicesView";
import { WhatWorks } from "../devices/WhatWorks";
import { EraseForGood } from "../ui/EraseForGood";
import { Field } from "../ui/Field";
import { ErrorNotice, Page, Ready } from "../ui/Notices";
import { Resumed } from "../ui/Resumed";
import { useSheet } from "../ui/useSheet";

export function HouseholdPage() {
  const session = useQuery(queries.session()).data;
  const isFull = session?.is_full ?? true;
  return (
    <Page title="Household">
      <Ready query={useQuery(queries.household())}>
        {(household) => (
          <Stack spacing={2}>
            {isFull && <SettingsForm key={JSON.stringify(household.settings)} settings={household.settings} />}
            <Section title="Devices and people">
              {session && <DevicesView session={session} homes={household.homes} />}
              <WhatWorks />
            </Section>
            {isFull && <Travel empty={household.empty} />}
            <PutAway />
            {isFull && <EraseName />}
            <OwnPace pace={household.pace} settings={household.settings} today={household.today} />
            {household.backups && <Backups backups={household.backups} />}
          </Stack>
        )}
      </Ready>
    </Page>
  );
}

type Settings = Schemas["Settings"];

const units: [Schemas["Units"], string][] = [
  ["us", "Cups and fluid ounces"],
  ["metric", "Millilitres and litres"],
];
const clocks: [Schemas["Clock"], string][] = [
  ["usual", "As usual with these units"],
  ["12", "With 12 hours, 3:05 PM"],
  ["24", "With 24 hours, 15:05"],
];
const tastes: [Schemas["Taste"], string][] = [
  ["usual", "Most people"],
  ["strict", "A keen nose"],
];
const asks: [Schemas["Asks"], string][] = [
  ["needed", "Only what keeps it running"],
  ["usual", "What most people do"],
  ["all", "All of it"],
];

function SettingsForm({ settings }: { settings: Settings }) {
  const sheet = useSheet({
    key: "settings",
    first: settings,
    // The own pace is begun anew by a button of its own.
    save: (typed: Settings) => send.settings({ ...typed, pace_after: settings.pace_after ?? null }),
  });
  const { form, submit, isSaving, error } = sheet;
  return (
    <FormProvider {...form}>
      <Section title="Settings">
        <Resumed sheet={sheet} />
        <Group name="Reading">
          <Field<Settings> as="choice" name="units" label="Units" options={units} />
          <Field<Settings> as="choice" name="clock" label="Times are written" options={clocks} />
          <Field<Settings> name="time_zone" label="Time zone" help="Whose days count: Europe/Lisbon, UTC" />
        </Group>
        <Group name="Tasting and smelling">
          <Field<Settings> as="choice" name="taste" label="Rinse for" options={tastes} />
          <Field<Settings>
            as="list"
            name="noses"
            label="Keen noses, by name"
            help="It is rinsed for them, and they are asked to smell"
          />
          <Field<Settings> as="tick" name="avoid_smell" label="Avoid agents that smell" />
        </Group>
        <Group name="Asking and keys">
          <Field<Settings>
            as="choice"
            name="asks"
            label="Ask me for"
            help="Small works on today's list"
            options={asks}
          />
          <KeysField />
        </Group>
        <Group name="Money">
          <Field<Settings> name="currency" label="Money is written with" help="$, £, EUR" />
          <Field<Settings>
            as="number"
            name="hourly_rate"
            label="An hour of your work is worth"
            help="Leave empty to keep your time out of the costs"
          />
        </Group>
        <Box>
          <Button
            variant="contained"
            disabled={!(form.formState.isDirty || sheet.isResumed) || isSaving}
            onClick={submit}
          >
            Save
          </Button>
        </Box>
        <ErrorNotice error={error} />
      </Section>
    </FormProvider>
  );
}

/** Asked the way round that people think of it. */
function KeysField() {
  const { field } = useController<Settings, "keys_off">({ name: "keys_off" });
  return (
    <FormControlLabel
      control={<Checkbox checked={!field.value} onChange={(e) => field.onChange(!e.target.checked)} />}
      label="Single keys act (digits go to places; Space, Backspace and letters in a clean)"
    />
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
  const [sent, setSent] = useState(0);
  const take = useChange((file: File) => {
    setSent(0);
    setTaken(false);
    return send.import(file, replace, setSent);
  });
  const lines = take.error instanceof Refused ? Object.entries(take.error.fields) : [];
  return (
    <Section title="Take it with you">
      <Typography>Everything this household has told Murlo is one JSON file, in an open format.</Typography>
      <Stack direction="row" sx={{ gap: 2, flexWrap: "wrap", alignItems: "center" }}>
        <Button variant="outlined" href="/api/export" download="murlo-household.json">
          Export everything
        </Button>
        <Button variant="outlined" component="label" disabled={take.isPending || (!empty && !replace)}>
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
      {take.isPending && (
        <Box role="status">
          <Typography>
            {sent < 1
              ? `Sent: ${Math.round(100 * sent)} %`
              : "All of it is sent. It is read and checked, then taken in whole; you may go on elsewhere."}
          </Typography>
          <LinearProgress
            aria-label="The file on its way"
            variant={sent < 1 ? "determinate" : "indeterminate"}
            value={100 * sent}
          />
        </Box>
      )}
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
  way: "way of cleaning",
  home: "home",
  visit: "visit",
  photo: "photo",
  supply: "thing in the cupboard",
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
                  <Stack direction="row" sx={{ flexShrink: 0 }}>
                    <Gone thing={thing} />
                    <Button
                      aria-label={`Bring ${thing.name} back`}
                      disabled={restore.isPending}
                      onClick={() => restore.mutate(thing)}
                    >
                      Bring back
                    </Button>
                  </Stack>
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

/** What of something that is put away can be erased for good. */
function Gone({ thing: { kind, id, name } }: { thing: Schemas["PutAway"] }) {
  switch (kind) {
    case "home":
    case "photo":
      return <EraseForGood what={{ kind, id }} name={name} label="Erase" />;
    case "past_clean":
    case "visit":
      return (
        <EraseForGood
          what={{ kind: "note", of: { in: kind, id } }}
          name={`the words of ${name}`}
          label="Erase its words"
        />
      );
    default:
      return null;
  }
}

/** Somebody who is not to be named here any more. */
function EraseName() {
  const [name, setName] = useState("");
  const meant = name.trim();
  return (
    <Section title="Erase a name">
      <Typography>
        What somebody did stays; who it was is forgotten, in the backups too. A home is erased on its sheet in Round, a
        photo once it is put away, a note where it stands.
      </Typography>
      <Stack direction="row" spacing={1} sx={{ alignItems: "center" }}>
        <TextField label="The name, as it is written" value={name} onChange={(e) => setName(e.target.value)} />
        {meant !== "" && (
          <EraseForGood
            what={{ kind: "person", name: meant }}
            name={`the name ${meant}`}
            label="Erase"
            then={() => setName("")}
          />
        )}
      </Stack>
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
