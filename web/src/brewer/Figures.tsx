import { Button, Paper, Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { Refused, type Schemas, send, useChange } from "../api/client";
import { ErrorNotice } from "../ui/Notices";
import { typedOrNone } from "../ui/typed";
import { useUndo } from "../ui/Undo";

const origins: Record<Schemas["Origin"], string> = {
  usual: "usual for its kind",
  told: "told",
  measured: "measured",
};

type Draft = Schemas["BrewerDraft"];

/** The draft with one of its fields, named by its path, set to what was typed. */
export function corrected(draft: Draft, field: string, value: unknown): Draft {
  const next = structuredClone(draft) as Record<string, unknown>;
  const path = field.split(".");
  const last = path.pop() ?? field;
  const place = path.reduce((at, name) => at[name] as Record<string, unknown>, next);
  place[last] = value;
  return next as unknown as Draft;
}

/** Each figure with where it is from; a touch corrects it where it stands. */
export function Figures({ id, draft, figures }: { id: string; draft: Draft; figures: Schemas["Figure"][] }) {
  const [open, setOpen] = useState<string | null>(null);
  return (
    <Paper component="section" aria-label="Figures" sx={{ p: 2 }}>
      <Typography variant="h2" gutterBottom>
        Figures
      </Typography>
      <Stack component="ul" sx={{ listStyle: "none", p: 0, m: 0 }}>
        {figures.map((figure) => (
          <Stack component="li" key={figure.field} sx={{ borderTop: 1, borderColor: "divider", py: 0.5 }}>
            {open === figure.field ? (
              <Correct id={id} draft={draft} figure={figure} onDone={() => setOpen(null)} />
            ) : (
              <Stack direction="row" sx={{ alignItems: "center", justifyContent: "space-between", gap: 1 }}>
                <Typography>
                  {figure.name}: <strong>{figure.text}</strong>{" "}
                  <Typography component="span" variant="body2" color="textSecondary">
                    {origins[figure.origin]}
                    {figure.measured && ` (${figure.measured})`}
                  </Typography>
                </Typography>
                <Button size="small" aria-label={`Correct: ${figure.name}`} onClick={() => setOpen(figure.field)}>
                  Correct
                </Button>
              </Stack>
            )}
          </Stack>
        ))}
      </Stack>
    </Paper>
  );
}

function Correct({
  id,
  draft,
  figure,
  onDone,
}: {
  id: string;
  draft: Draft;
  figure: Schemas["Figure"];
  onDone: () => void;
}) {
  const [text, setText] = useState(figure.text);
  const offerUndo = useUndo();
  const change = useChange((body: Draft) => send.changeBrewer(id, body));
  const fields = change.error instanceof Refused ? change.error.fields : {};
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        const value = figure.typing === "number" ? typedOrNone(text) : text;
        change.mutate(corrected(draft, figure.field, value), {
          onSuccess: () => {
            offerUndo({ text: `${figure.name}: ${text}`, undo: () => change.mutate(draft) });
            onDone();
          },
        });
      }}
    >
      <Stack direction="row" spacing={1} sx={{ py: 1, alignItems: "flex-start" }}>
        <TextField
          label={figure.name}
          value={text}
          autoFocus
          inputMode={figure.typing === "number" ? "decimal" : "text"}
          error={figure.field in fields}
          helperText={fields[figure.field]}
          onChange={(e) => setText(e.target.value)}
        />
        <Button type="submit" variant="contained" disabled={change.isPending}>
          Save
        </Button>
        <Button onClick={onDone}>Leave it</Button>
      </Stack>
      {!(figure.field in fields) && <ErrorNotice error={change.error} />}
    </form>
  );
}
