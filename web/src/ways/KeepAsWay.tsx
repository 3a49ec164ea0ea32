import { Button, Paper, Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import { Refused, type Schemas, send, useChange } from "../api/client";
import { newId } from "../api/newId";
import { ErrorNotice } from "../ui/Notices";
import { useUndo } from "../ui/Undo";

/** Keeps what was done, or what is planned, as the household's own way: a new one, or the next revision of one that is known. */
export function KeepAsWay({
  brewer,
  from,
  ways,
  side,
  children,
}: {
  brewer: string;
  from: Schemas["WayFrom"];
  ways: Schemas["WayShown"][];
  side: string;
  children: string;
}) {
  const own = ways.filter((way) => way.circuit_id === side);
  const [name, setName] = useState(own.length === 0 ? "Our way" : "");
  const offerUndo = useUndo();
  const putAway = useChange((id: string) => send.deleteWay(id));
  const keep = useChange((body: Schemas["NewWay"]) => send.keepWay(brewer, body));
  const change = useChange((id: string) => send.changeWay(id, { from }));
  const kept = keep.data ?? change.data;
  if (kept) {
    return (
      <Paper component="section" aria-label="Kept" sx={{ p: 2 }}>
        <Typography sx={{ fontSize: "1.1rem" }}>
          <strong>Kept as “{kept.name}”.</strong> The next plan of it is this.{" "}
          <Link to={`/brewers/${brewer}/ways`}>See it</Link>
        </Typography>
      </Paper>
    );
  }
  const refused = keep.error ?? change.error;
  const fields = keep.error instanceof Refused ? keep.error.fields : {};
  const busy = keep.isPending || change.isPending;
  return (
    <Paper
      component="section"
      aria-label="Our way"
      className="screen-only"
      sx={{ p: 2, display: "flex", flexDirection: "column", gap: 1.5 }}
    >
      <Typography>{children}</Typography>
      {own.length > 0 && (
        <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap" }}>
          {own.map((way) => (
            <Button
              key={way.id}
              variant="outlined"
              disabled={busy}
              sx={{ minHeight: 56, overflowWrap: "anywhere" }}
              onClick={() => change.mutate(way.id)}
            >
              “{way.name}” is this from now on
            </Button>
          ))}
        </Stack>
      )}
      <Stack
        direction="row"
        component="form"
        sx={{ gap: 1, flexWrap: "wrap", alignItems: "flex-start" }}
        onSubmit={(event) => {
          event.preventDefault();
          const id = newId();
          keep.mutate(
            { id, name, from },
            {
              onSuccess: () => offerUndo({ text: `“${name}” was kept`, undo: () => putAway.mutate(id) }),
            },
          );
        }}
      >
        <TextField
          label={own.length === 0 ? "Name of this way" : "Or a new one, named"}
          value={name}
          error={"name" in fields}
          helperText={fields.name}
          onChange={(event) => setName(event.target.value)}
          sx={{ flex: "1 1 200px", maxWidth: 360 }}
        />
        <Button type="submit" variant="outlined" disabled={busy || name.trim() === ""} sx={{ minHeight: 56 }}>
          Keep this as our way
        </Button>
      </Stack>
      <ErrorNotice error={"name" in fields ? null : refused} />
    </Paper>
  );
}
