import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  IconButton,
  Stack,
  TextField,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { Refused, type Schemas, send, useChange, useHousehold } from "../api/client";
import { newId } from "../api/newId";
import { ErrorNotice } from "../ui/Notices";
import { TimeField } from "../ui/TimeField";
import { typedOrNone } from "../ui/typed";
import { useUndo } from "../ui/Undo";
import { dayText } from "../ui/useClock";

type Home = Schemas["Home"];

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

/** What somebody who goes to a home must know. */
export function HomeSheet({ id, close }: { id: string; close: () => void }) {
  const home = useHousehold().data?.homes.find((known) => known.id === id);
  // A home that was just added comes with the next answer.
  return (
    <Dialog open onClose={close} fullWidth maxWidth="sm">
      {home && <Sheet home={home} close={close} />}
    </Dialog>
  );
}

function Sheet({ home, close }: { home: Home; close: () => void }) {
  const [draft, setDraft] = useState<Home>(home);
  const save = useChange(send.changeHome);
  const away = useChange(send.deleteHome);
  const back = useChange(send.restoreHome);
  const offerUndo = useUndo();
  const fields = save.error instanceof Refused ? save.error.fields : {};
  const set = (change: Partial<Home>) => setDraft({ ...draft, ...change });
  const rooms = draft.rooms ?? [];
  const room = (n: number, change: Partial<Schemas["Room"]>) =>
    set({ rooms: rooms.map((known, i) => (i === n ? { ...known, ...change } : known)) });
  return (
    <>
      <DialogTitle>{home.name}</DialogTitle>
      <DialogContent>
        <Stack spacing={2} sx={{ pt: 1 }}>
          <TextField
            label="Name"
            value={draft.name}
            error={"name" in fields}
            helperText={fields.name}
            onChange={(e) => set({ name: e.target.value })}
          />
          <TextField
            label="How one gets in"
            multiline
            minRows={2}
            value={draft.access ?? ""}
            error={"access" in fields}
            helperText={fields.access ?? "Key, door, what to lock again"}
            onChange={(e) => set({ access: e.target.value })}
          />
          <TextField
            label="Whom to ask"
            value={draft.contact ?? ""}
            error={"contact" in fields}
            helperText={fields.contact}
            onChange={(e) => set({ contact: e.target.value })}
          />
          <TextField
            label="Minutes on the way there"
            inputMode="numeric"
            defaultValue={draft.travel_min ?? ""}
            error={"travel_min" in fields}
            helperText={fields.travel_min}
            onChange={(e) => set({ travel_min: typedOrNone(e.target.value) as number | null })}
          />
          <Typography variant="h3">Other rooms there</Typography>
          <Typography variant="body2" color="textSecondary">
            They fit into the waits of a visit.
          </Typography>
          {rooms.map((known, n) => (
            <Stack key={known.id} direction="row" spacing={1} sx={{ alignItems: "flex-start" }}>
              <TextField
                label={`Room ${n + 1}`}
                value={known.name}
                error={`rooms.${known.id}.name` in fields}
                helperText={fields[`rooms.${known.id}.name`]}
                onChange={(e) => room(n, { name: e.target.value })}
              />
              <TextField
                label={`Minutes for room ${n + 1}`}
                inputMode="numeric"
                defaultValue={known.minutes}
                error={`rooms.${known.id}.minutes` in fields}
                helperText={fields[`rooms.${known.id}.minutes`]}
                onChange={(e) => room(n, { minutes: typedOrNone(e.target.value) as number })}
              />
              <IconButton
                aria-label={`Take room ${n + 1} out`}
                onClick={() => set({ rooms: rooms.filter((_, i) => i !== n) })}
                sx={{ width: 44, height: 44 }}
              >
                ×
              </IconButton>
            </Stack>
          ))}
          <Button
            variant="outlined"
            onClick={() => set({ rooms: [...rooms, { id: newId(), name: "", minutes: 15 }] })}
            sx={{ alignSelf: "flex-start" }}
          >
            Add a room
          </Button>
          <Guests home={draft} saved={home} set={set} />
          {Object.keys(fields).length === 0 && <ErrorNotice error={save.error ?? away.error} />}
          {"guests.stays" in fields && <ErrorNotice error={save.error} />}
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
        <Button onClick={close}>Not now</Button>
        <Button variant="contained" disabled={save.isPending} onClick={() => save.mutate(draft, { onSuccess: close })}>
          Save
        </Button>
      </DialogActions>
    </>
  );
}

const usual = { out_by: "10:00:00", in_from: "15:00:00", stays: [] };

/** When guests change, typed or read from the calendar of the let. */
function Guests({ home, saved, set }: { home: Home; saved: Home; set: (change: Partial<Home>) => void }) {
  const read = useChange((calendar: string) => send.guests(saved.id, calendar));
  const guests = home.guests;
  if (!guests)
    return (
      <Button variant="outlined" sx={{ alignSelf: "flex-start" }} onClick={() => set({ guests: usual })}>
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
          onChange={(out_by) => out_by !== "" && set({ guests: { ...guests, out_by } })}
        />
        <TimeField
          label="The next may come from"
          value={guests.in_from}
          onChange={(in_from) => in_from !== "" && set({ guests: { ...guests, in_from } })}
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
                  onSuccess: (kept) => kept.guests && set({ guests: { ...guests, stays: kept.guests.stays ?? [] } }),
                }),
              );
            }}
          />
        </Button>
        <Button onClick={() => set({ guests: null })}>It is not let any more</Button>
      </Stack>
      <ErrorNotice error={read.error} />
    </>
  );
}
