import { Button, Chip, Paper, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { type Schemas, send, useChange } from "../api/client";
import { queries } from "../api/queries";
import { ErrorNotice, Page, Ready } from "../ui/Notices";
import { useUndo } from "../ui/Undo";
import { useMoment } from "../ui/useClock";

/** What was written to people: what waits, and what was mailed. */
export function OutboxPage() {
  const letters = useQuery(queries.letters());
  return (
    <Page
      title="Outbox"
      aside={
        <Button component={Link} to="/round">
          Back to the round
        </Button>
      }
    >
      <Ready query={letters}>{(view) => <Letters view={view} />}</Ready>
    </Page>
  );
}

function Letters({ view }: { view: Schemas["OutboxView"] }) {
  return (
    <Stack spacing={2}>
      <Typography color="textSecondary" sx={{ overflowWrap: "anywhere" }}>
        {view.sends
          ? "Letters are mailed when you say so. One that could not be mailed waits here."
          : `No mail server is named, so letters wait as files in ${view.folder}. Open one in your program for mail and send it from there.`}
      </Typography>
      {view.letters.length === 0 && (
        <Typography>No letters yet. A card, or a home’s month under “Who owes what”, is sent from there.</Typography>
      )}
      {view.letters.map((one) => (
        <Letter key={one.id} view={one} sends={view.sends} />
      ))}
    </Stack>
  );
}

function Letter({ view, sends }: { view: Schemas["LetterView"]; sends: boolean }) {
  const [open, setOpen] = useState(false);
  const moment = useMoment();
  const offerUndo = useUndo();
  const again = useChange(() => send.letter(view.id, view.letter));
  const away = useChange(send.deleteLetter);
  const back = useChange(send.restoreLetter);
  const { letter } = view;
  return (
    <Paper component="article" aria-label={letter.subject} sx={{ p: 2 }}>
      <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap", alignItems: "baseline" }}>
        <Typography variant="h3" component="h2" sx={{ flexGrow: 1, overflowWrap: "anywhere" }}>
          {letter.subject}
        </Typography>
        <Chip label={view.is_sent ? "Mailed" : "Waits"} color={view.is_sent ? "default" : "primary"} size="small" />
      </Stack>
      <Typography color="textSecondary" sx={{ overflowWrap: "anywhere" }}>
        To {letter.to}
        {view.at && ` · ${moment(view.at)}`}
      </Typography>
      {open && (
        <Typography component="pre" sx={{ whiteSpace: "pre-wrap", overflowWrap: "anywhere", fontFamily: "inherit" }}>
          {letter.text}
        </Typography>
      )}
      <ErrorNotice error={again.error ?? away.error} />
      {again.data?.trouble && <Typography role="status">{again.data.trouble}</Typography>}
      <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap", mt: 1 }}>
        <Button onClick={() => setOpen(!open)} aria-expanded={open}>
          {open ? "Fold" : "Read it"}
        </Button>
        <Button component="a" href={`/api/letters/${view.id}/file`} download>
          As a file
        </Button>
        {!view.is_sent && sends && (
          <Button variant="outlined" disabled={again.isPending} onClick={() => again.mutate(undefined)}>
            Mail it again
          </Button>
        )}
        {!view.is_sent && (
          <Button
            onClick={() =>
              away.mutate(view.id, {
                onSuccess: () => offerUndo({ text: "The letter is taken out", undo: () => back.mutate(view.id) }),
              })
            }
          >
            Take it out
          </Button>
        )}
      </Stack>
    </Paper>
  );
}
