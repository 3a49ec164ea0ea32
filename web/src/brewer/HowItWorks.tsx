import { Alert, Box, Button, Paper, Stack, Typography } from "@mui/material";
import { Link, useNavigate } from "react-router";
import { Refused, type Schemas, send, useChange } from "../api/client";
import { Cutaway } from "../pictures/Cutaway";
import { ErrorNotice } from "../ui/Notices";
import { Photos } from "../ui/Photos";
import { useUndo } from "../ui/Undo";
import { Figures } from "./Figures";
import { Operating } from "./Operating";

/** The machine itself: cut open, its figures, buttons, signals and needles, each corrected where it stands. */
export function HowItWorks({ id, brewer }: { id: string; brewer: Schemas["BrewerView"] }) {
  const { card, draft, figures, needles } = brewer;
  const navigate = useNavigate();
  const offerUndo = useUndo();
  const restore = useChange(() => send.restoreBrewer(id));
  const remove = useChange((meant: boolean) => send.deleteBrewer(id, meant));
  const held = remove.error instanceof Refused && remove.error.status === 409 ? remove.error : null;
  const putAway = (meant: boolean) =>
    remove.mutate(meant, {
      onSuccess: () => {
        offerUndo({ text: `${card.nickname} was put away`, undo: () => restore.mutate(undefined) });
        navigate("/");
      },
    });
  return (
    <>
      <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr", lg: "1fr 1fr" }, alignItems: "start" }}>
        <Paper component="section" aria-label="Cut open" sx={{ p: 2, textAlign: "center" }}>
          <Cutaway family={card.family_id} filter={draft.filter} />
        </Paper>
        <Figures id={id} draft={draft} figures={figures} />
      </Box>
      <Operating id={id} card={card} draft={draft} needles={needles} />
      <Paper sx={{ p: 2 }}>
        <Photos
          of={{ shows: "guide", brewer_id: id }}
          photos={brewer.photos}
          title="The maker's guide"
          take="Photo of a page or label"
          none="What its guide says of descaling, or the label with its name, kept where it is needed."
        />
      </Paper>
      <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap" }}>
        <Button component={Link} to={`/brewers/${id}/edit`} variant="outlined">
          Edit the whole sheet
        </Button>
        <Button component={Link} to={`/brewers/new/sheet?like=${id}`} variant="outlined">
          Another like this one
        </Button>
        <Button variant="outlined" color="inherit" disabled={remove.isPending} onClick={() => putAway(false)}>
          Put away
        </Button>
      </Stack>
      {held && (
        <Alert severity="warning" variant="outlined">
          <Typography>Not put away: {held.message}.</Typography>
          <Stack direction="row" sx={{ gap: 1, mt: 1, flexWrap: "wrap" }}>
            {card.circuits.flatMap((circuit) => {
              const clean = circuit.running_clean ?? circuit.acid?.clean_id;
              return clean
                ? [
                    <Button key={circuit.circuit_id} component={Link} to={`/cleans/${clean}`} variant="contained">
                      See to it
                    </Button>,
                  ]
                : [];
            })}
            <Button color="inherit" variant="outlined" onClick={() => putAway(true)}>
              Put it away all the same
            </Button>
          </Stack>
        </Alert>
      )}
      <ErrorNotice error={held ? null : (remove.error ?? restore.error)} />
    </>
  );
}
