import { Box, Button, Paper, Stack, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useState } from "react";
import { FormProvider } from "react-hook-form";
import { type Schemas, send, useChange } from "../api/client";
import { newId } from "../api/newId";
import { Level } from "../pictures/Level";
import { Field } from "../ui/Field";
import { ErrorNotice } from "../ui/Notices";
import { Resumed } from "../ui/Resumed";
import { useUndo } from "../ui/Undo";
import { useSheet } from "../ui/useSheet";

type Kind = Schemas["Moved"]["kind"];
const kinds: [Kind, string][] = [
  ["counted", "Counted"],
  ["bought", "Bought"],
  ["poured_away", "Poured away"],
];
/** So many lines of what happened are shown at first. */
const few = 3;

/** One thing of the cupboard: its level, how long it lasts, and what happened to it. */
export function Thing({ thing, agent }: { thing: Schemas["Shown"]; agent: Schemas["Agent"] | undefined }) {
  const [all, setAll] = useState(false);
  const [open, setOpen] = useState(false);
  const offerUndo = useUndo();
  const remove = useChange(send.deleteMovement);
  const restore = useChange(send.restoreMovement);
  const putAway = useChange(send.deleteSupply);
  const bringBack = useChange(send.restoreSupply);
  const shape = agent ? (agent.form === "liquid" || agent.form === "bottle" ? "bottle" : "bag") : "box";
  const lines = all ? thing.lines : thing.lines.slice(0, few);
  return (
    <Paper component="li" sx={{ p: 2 }}>
      <Stack direction="row" spacing={2}>
        <Level shape={shape} fill={thing.fill ?? null} text={`${thing.name}: ${thing.level_text}`} />
        <Stack spacing={0.5} sx={{ flexGrow: 1, minWidth: 0 }}>
          <Typography variant="h3" component="h2" sx={{ overflowWrap: "anywhere" }}>
            {thing.name}
          </Typography>
          {thing.buy && <Typography sx={{ fontWeight: 700 }}>▲ {thing.buy}</Typography>}
          <Typography sx={{ fontWeight: thing.buy ? 400 : 700 }}>{thing.level_text}</Typography>
          <Typography variant="body2">{thing.need_text}</Typography>
          {thing.cheapest && <Typography variant="body2">{thing.cheapest}</Typography>}
          <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap" }}>
            <Button variant="outlined" aria-expanded={open} onClick={() => setOpen(!open)}>
              Count or buy
            </Button>
            {!agent && (
              <Button
                color="inherit"
                onClick={() =>
                  putAway.mutate(thing.id, {
                    onSuccess: () =>
                      offerUndo({ text: `${thing.name} was put away`, undo: () => bringBack.mutate(thing.id) }),
                  })
                }
              >
                Put away
              </Button>
            )}
          </Stack>
        </Stack>
      </Stack>
      {open && <Move thing={thing} onDone={() => setOpen(false)} />}
      <Box component="ul" sx={{ listStyle: "none", p: 0, m: 0, mt: 1 }} aria-label={`What happened to ${thing.name}`}>
        {lines.map((line, i) => (
          <Stack
            component="li"
            key={line.movement_id ?? i}
            direction="row"
            sx={{ justifyContent: "space-between", alignItems: "center", borderTop: 1, borderColor: "divider" }}
          >
            <Typography variant="body2">{line.text}</Typography>
            {line.movement_id && (
              <Button
                size="small"
                aria-label={`Take back: ${line.text}`}
                onClick={() => {
                  const id = line.movement_id ?? "";
                  remove.mutate(id, {
                    onSuccess: () => offerUndo({ text: "Taken back", undo: () => restore.mutate(id) }),
                  });
                }}
              >
                Take back
              </Button>
            )}
          </Stack>
        ))}
      </Box>
      {thing.lines.length > few && (
        <Button size="small" onClick={() => setAll(!all)}>
          {all ? "Show fewer" : `Show ${thing.lines.length - few} more`}
        </Button>
      )}
      <ErrorNotice error={remove.error ?? restore.error ?? putAway.error} />
    </Paper>
  );
}

/** What is typed of it, by the paths of what is sent. */
interface Typed {
  what: { kind: Kind; amount: number | null };
}

/** Tells what came, went, or was counted. */
function Move({ thing, onDone }: { thing: Schemas["Shown"]; onDone: () => void }) {
  const [id] = useState(newId);
  const offerUndo = useUndo();
  const remove = useChange(send.deleteMovement);
  const sheet = useSheet<Typed, unknown>({
    key: `moved-${thing.id}`,
    first: { what: { kind: thing.level == null ? "counted" : "bought", amount: null } },
    save: ({ what }) => send.movement({ id, item_id: thing.id, what: what as Schemas["Moved"] }),
    onSaved: () => {
      onDone();
      offerUndo({ text: `${thing.name}: written down`, undo: () => remove.mutate(id) });
    },
  });
  const { kind, amount } = sheet.form.watch("what");
  return (
    <FormProvider {...sheet.form}>
      <Stack component="form" onSubmit={sheet.submit} spacing={1} sx={{ mt: 1 }}>
        <Resumed sheet={sheet} />
        <ToggleButtonGroup
          exclusive
          value={kind}
          aria-label="What happened"
          onChange={(_, next: Kind | null) => next && sheet.form.setValue("what.kind", next)}
        >
          {kinds.map(([value, words]) => (
            <ToggleButton key={value} value={value} sx={{ minHeight: 48, color: "text.primary" }}>
              {words}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
        <Stack direction="row" spacing={1} sx={{ alignItems: "flex-start" }}>
          <Field<Typed> as="number" name="what.amount" label={`How much, ${thing.unit}`} />
          <Button
            type="submit"
            variant="contained"
            sx={{ minHeight: 48, flexShrink: 0 }}
            disabled={amount == null || sheet.isSaving}
          >
            Write it down
          </Button>
        </Stack>
        <ErrorNotice error={sheet.error} />
      </Stack>
    </FormProvider>
  );
}
