import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  IconButton,
  MenuItem,
  Stack,
  TextField,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { FormProvider, useFieldArray } from "react-hook-form";
import { type Schemas, send, useChange } from "../api/client";
import { newId } from "../api/newId";
import { queries } from "../api/queries";
import { EraseForGood } from "../ui/EraseForGood";
import { Field } from "../ui/Field";
import { ErrorNotice } from "../ui/Notices";
import { Resumed } from "../ui/Resumed";
import { TimeField } from "../ui/TimeField";
import { useUndo } from "../ui/Undo";
import { dayText } from "../ui/useClock";
import { useSheet } from "../ui/useSheet";
import { told } from "./DaysOff";
import { Rhythm } from "./Rhythm";

type Home = Schemas["Home"];

const warmths: [Schemas["Warmth"], string][] = [
  ["cool", "cool, about 12 °C"],
  ["usual", "as kitchens are, about 20 °C"],
  ["warm", "warm, about 27 °C"],
];

/** A home of its own, told by its name; the rest is told where it stands then. */
export function NewHome({ opened }: { opened: (id: string) => void }) {
  const [open, setOpen] = useState(false);
  const [name, setName] = useState("");
  const add = useChange((given: { id: string; name: string }) => send.home(given.id, given.name));
  return (
    <>
      <Button variant="outlined" onClick={() => setOpen(true)}>
        Add a home
      </Button>
      <Dialog open={open} onClose={() => setOpen(false)} fullWidth maxWidth="xs">
        <form
          onSubmit={(event) => {
            event.preventDefault();
            add.mutate(
              { id: newId(), name },
              {
                onSuccess: (home) => {
                  setOpen(false);
                  setName("");
                  opened(home.id);
                },
              },
            );
          }}
        >
          <DialogTitle>Add a home</DialogTitle>
          <DialogContent>
            <TextField
              autoFocus
              label="Its name"
              value={name}
              onChange={(e) => setName(e.target.value)}
              error={add.error !== null}
              helperText={add.error?.message}
              sx={{ mt: 1 }}
            />
          </DialogContent>
          <DialogActions>
            <Button onClick={() => setOpen(false)}>Not now</Button>
            <Button type="submit" variant="contained" disabled={name.trim() === "" || add.isPending}>
              Add it
            </Button>
          </DialogActions>
        </form>
      </Dialog>
    </>
  );
}

/** Times off that nobody finished telling are none. */
const tidy = (home: Home): Home =>
  home.coming?.off ? { ...home, coming: { ...home.coming, off: told(home.coming.off) } } : home;

/** What somebody who goes to a home must know. */
export function HomeSheet({ id, close }: { id: string; close: () => void }) {
  const home = useQuery(queries.household()).data?.homes.find((known) => known.id === id);
  // A home that was just added comes with the next answer.
  return (
    <Dialog open onClose={close} fullWidth maxWidth="sm">
      {home && <Sheet home={home} close={close} />}
    </Dialog>
  );
}

function Sheet({ home, close }: { home: Home; close: () => void }) {
  const today = useQuery(queries.round()).data?.today ?? "";
  const sheet = useSheet({ key: `home-${home.id}`, first: home, save: send.changeHome, onSaved: close, tidy });
  const { form, submit, isSaving, error } = sheet;
  const rooms = useFieldArray({ control: form.control, name: "rooms", keyName: "key" });
  const away = useChange(send.deleteHome);
  const back = useChange(send.restoreHome);
  const offerUndo = useUndo();
  return (
    <FormProvider {...form}>
      <DialogTitle>{home.name}</DialogTitle>
      <DialogContent>
        <Stack spacing={2} sx={{ pt: 1 }}>
          <Resumed sheet={sheet} />
          <Field<Home> name="name" label="Name" />
          <Field<Home> as="lines" name="access" label="How one gets in" help="Key, door, what to lock again" />
          <Field<Home> as="tick" name="calendar_has_way_in" label="Your calendar may say how one gets in" />
          <Field<Home> name="contact" label="Whom to ask" />
          <Field<Home> name="mail" label="Where mail goes" help="Cards and bills are mailed there when you say so" />
          {(home.access || home.contact || home.mail) && (
            <Box sx={{ alignSelf: "flex-start" }}>
              <EraseForGood
                what={{ kind: "note", of: { in: "home", id: home.id } }}
                name="how one gets in, whom to ask and where mail goes"
                label="Erase the last three for good"
                then={close}
              />
            </Box>
          )}
          <Field<Home> as="number" name="travel_min" label="Minutes on the way there" />
          <Field<Home>
            as="choice"
            name="warmth"
            label="While nobody is there it is"
            help="Water that stands is stale sooner where it is warm"
            options={warmths}
          />
          <Rhythm today={today} />
          <HowPaid pay={form.watch("pay") ?? { by: "usual" }} set={(pay) => form.setValue("pay", pay)} />
          <Typography variant="h3">Other rooms there</Typography>
          <Typography variant="body2" color="textSecondary">
            They fit into the waits of a visit.
          </Typography>
          {rooms.fields.map(({ key, id }, n) => (
            <Stack key={key} direction="row" spacing={1} sx={{ alignItems: "flex-start" }}>
              <Field<Home> name={`rooms.${n}.name`} also={[`rooms.${id}.name`]} label={`Room ${n + 1}`} />
              <Field<Home>
                as="number"
                name={`rooms.${n}.minutes`}
                also={[`rooms.${id}.minutes`]}
                label={`Minutes for room ${n + 1}`}
              />
              <IconButton
                aria-label={`Take room ${n + 1} out`}
                onClick={() => rooms.remove(n)}
                sx={{ width: 44, height: 44 }}
              >
                ×
              </IconButton>
            </Stack>
          ))}
          <Button
            variant="outlined"
            onClick={() => rooms.append({ id: newId(), name: "", minutes: 15 })}
            sx={{ alignSelf: "flex-start" }}
          >
            Add a room
          </Button>
          <Guests
            saved={home}
            guests={form.watch("guests") ?? null}
            set={(guests) => form.setValue("guests", guests)}
          />
          <ErrorNotice error={error ?? away.error} />
        </Stack>
      </DialogContent>
      <DialogActions>
        <Button
          color="inherit"
          sx={{ mr: "auto" }}
          onClick={() =>
            away.mutate(home.id, {
              onSuccess: () => {
                close();
                offerUndo({ text: `${home.name} is put away`, undo: () => back.mutate(home.id) });
              },
            })
          }
        >
          Put away
        </Button>
        <EraseForGood
          what={{ kind: "home", id: home.id }}
          name={`${home.name} and all that happened there`}
          label="Erase"
          then={close}
        />
        <Button onClick={close}>Not now</Button>
        <Button variant="contained" disabled={isSaving} onClick={submit}>
          Save
        </Button>
      </DialogActions>
    </FormProvider>
  );
}

const pays: [Schemas["Pay"]["by"], string][] = [
  ["usual", "By the hour, as under Household"],
  ["hour", "By an hour of its own"],
  ["fixed", "One price, however long"],
  ["gift", "It is a gift"],
];

const bottles: [Schemas["Bottle"], string][] = [
  ["own", "Your own: it goes from your cupboard, and is charged"],
  ["theirs", "Theirs: neither counted nor charged"],
];

/** How one is paid for coming there, and what is paid for besides. */
function HowPaid({ pay, set }: { pay: Schemas["Pay"]; set: (pay: Schemas["Pay"]) => void }) {
  const chosen = (by: Schemas["Pay"]["by"]): Schemas["Pay"] => {
    switch (by) {
      case "hour":
        return { by, rate: 0 };
      case "fixed":
        return { by, price: 0 };
      default:
        return { by };
    }
  };
  return (
    <>
      <TextField
        select
        label="How you are paid there"
        value={pay.by}
        onChange={(e) => set(chosen(e.target.value as Schemas["Pay"]["by"]))}
      >
        {pays.map(([by, words]) => (
          <MenuItem key={by} value={by}>
            {words}
          </MenuItem>
        ))}
      </TextField>
      {pay.by === "hour" && <Field<Home> as="number" name="pay.rate" label="An hour there" />}
      {pay.by === "fixed" && <Field<Home> as="number" name="pay.price" label="The price of a visit" />}
      <Field<Home> as="choice" name="bottle" label="Whose agent you use there" options={bottles} />
      {pay.by !== "gift" && (
        <Stack direction={{ xs: "column", sm: "row" }} spacing={2}>
          <Field<Home> as="number" name="descaling_price" label="Each descaling besides" />
          <Field<Home> as="number" name="needles_price" label="Needles alone besides" />
        </Stack>
      )}
    </>
  );
}

const usual = { out_by: "10:00:00", in_from: "15:00:00", stays: [] };

/** When guests change, typed or read from the calendar of the let. */
function Guests({
  saved,
  guests,
  set,
}: {
  saved: Home;
  guests: NonNullable<Home["guests"]> | null;
  set: (guests: NonNullable<Home["guests"]> | null) => void;
}) {
  const read = useChange((calendar: string) => send.guests(saved.id, calendar));
  if (!guests)
    return (
      <Button variant="outlined" sx={{ alignSelf: "flex-start" }} onClick={() => set(usual)}>
        It is let to guests
      </Button>
    );
  const stays = guests.stays ?? [];
  return (
    <>
      <Typography variant="h3">Guests</Typography>
      <Stack direction="row" sx={{ gap: 2, flexWrap: "wrap" }}>
        <TimeField
          label="Guests are gone by"
          value={guests.out_by}
          onChange={(out_by) => out_by !== "" && set({ ...guests, out_by })}
        />
        <TimeField
          label="The next may come from"
          value={guests.in_from}
          onChange={(in_from) => in_from !== "" && set({ ...guests, in_from })}
        />
      </Stack>
      <Typography>
        {stays.length === 0
          ? "No stay is known yet."
          : `${stays.length} ${stays.length === 1 ? "stay" : "stays"} known, the last until ${dayText(stays.at(-1)?.until ?? "")}.`}
      </Typography>
      <Stack direction="row" spacing={1}>
        <Button component="label" variant="outlined" disabled={read.isPending}>
          Read the calendar of the let
          <input
            type="file"
            accept=".ics,text/calendar"
            hidden
            onChange={(event) => {
              const file = event.target.files?.[0];
              event.target.value = "";
              file?.text().then((text) =>
                read.mutate(text, {
                  onSuccess: (kept) => kept.guests && set({ ...guests, stays: kept.guests.stays ?? [] }),
                }),
              );
            }}
          />
        </Button>
        <Button onClick={() => set(null)}>It is not let any more</Button>
      </Stack>
      <ErrorNotice error={read.error} />
    </>
  );
}
