import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Stack, Typography } from "@mui/material";
import { useState } from "react";
import { Refused, send, useChange } from "../api/client";
import { newId } from "../api/newId";
import { DayField } from "../ui/DayField";
import { ErrorNotice } from "../ui/Notices";
import { useUndo } from "../ui/Undo";

/** Days on which nobody is at a home, told once for all of its brewers. */
export function Away({ home, name, today }: { home: string; name: string; today: string }) {
  const [open, setOpen] = useState(false);
  const [id, setId] = useState(newId);
  const [from, setFrom] = useState(today);
  const [until, setUntil] = useState("");
  const offerUndo = useUndo();
  const tell = useChange((given: { id: string; from: string; until: string }) => send.away(home, given));
  const takeBack = useChange((entries: { id: string; brewer_id: string }[]) =>
    Promise.all(entries.map((entry) => send.deleteEntry(entry.brewer_id, entry.id))),
  );
  const fields = tell.error instanceof Refused ? tell.error.fields : {};
  const close = () => {
    setOpen(false);
    setId(newId());
  };
  return (
    <>
      <Button size="small" onClick={() => setOpen(true)} aria-label={`Away from ${name}`}>
        Away …
      </Button>
      <Dialog open={open} onClose={close}>
        <DialogTitle>Away from {name}</DialogTitle>
        <DialogContent>
          <Stack spacing={2} sx={{ pt: 1 }}>
            <Typography>
              Nothing falls due there meanwhile. Murlo says what to do before, and what standing water means afterwards.
            </Typography>
            <DayField label="First day away" value={from} error={fields.day} onChange={setFrom} />
            <DayField label="Last day away" value={until} error={fields["what.until"]} onChange={setUntil} />
            {Object.keys(fields).length === 0 && <ErrorNotice error={tell.error} />}
          </Stack>
        </DialogContent>
        <DialogActions>
          <Button onClick={close}>Not now</Button>
          <Button
            variant="contained"
            disabled={from === "" || until === "" || tell.isPending}
            onClick={() =>
              tell.mutate(
                { id, from, until },
                {
                  onSuccess: (entries) => {
                    close();
                    offerUndo({ text: `Away from ${name}, written down`, undo: () => takeBack.mutate(entries) });
                  },
                },
              )
            }
          >
            Write it down
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
