import { Box, Button, Collapse, List, ListItem, MenuItem, Paper, Stack, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";
import { Refused, type Schemas, send, useChange } from "../api/client";
import { newId } from "../api/newId";
import { queries } from "../api/queries";
import { CommitField } from "../ui/CommitField";
import { ErrorNotice } from "../ui/Notices";
import { useUndo } from "../ui/Undo";

/** The ways of cleaning a brewer that the household keeps: what is done, what they were, and where else they go. */
export function WaysView({ id, brewer }: { id: string; brewer: Schemas["BrewerView"] }) {
  return (
    <>
      {brewer.ways.length === 0 && (
        <Paper sx={{ p: 2 }}>
          <Typography sx={{ fontSize: "1.1rem" }}>
            No way is kept yet. At the end of a clean that went well, “Keep this as our way”; or choose a bath in a{" "}
            <Link to={`/brewers/${id}/plan`}>plan</Link> and keep that. The next plan is then done so.
          </Typography>
        </Paper>
      )}
      {brewer.ways.map((way) => (
        <OneWay key={way.id} id={id} way={way} />
      ))}
      <OpenFile id={id} brewer={brewer} />
    </>
  );
}

function Lines({ lines }: { lines: string[] }) {
  return (
    <List dense disablePadding>
      {lines.map((line) => (
        <ListItem key={line} disableGutters sx={{ py: 0.25, fontSize: "1.1rem", overflowWrap: "anywhere" }}>
          {line}
        </ListItem>
      ))}
    </List>
  );
}

function OneWay({ id, way }: { id: string; way: Schemas["WayShown"] }) {
  const [all, setAll] = useState(false);
  const offerUndo = useUndo();
  const restore = useChange(() => send.restoreWay(way.id));
  const remove = useChange(() => send.deleteWay(way.id));
  const rename = useChange((name: string) => send.changeWay(way.id, { name }));
  const [latest, ...earlier] = way.revisions;
  const fields = rename.error instanceof Refused ? rename.error.fields : {};
  return (
    <Paper component="section" aria-label={way.name} sx={{ p: 2 }}>
      <Stack direction="row" sx={{ gap: 2, flexWrap: "wrap", alignItems: "flex-start", mb: 1 }}>
        <CommitField
          label="Its name"
          text={way.name}
          error={"name" in fields}
          helperText={fields.name}
          onCommit={(name) => rename.mutate(name)}
          sx={{ flex: "1 1 220px", maxWidth: 420 }}
        />
        <Typography color="textSecondary" sx={{ alignSelf: "center" }}>
          {way.side ? `${way.side} · ` : ""}
          {latest?.text}
        </Typography>
      </Stack>
      <Lines lines={latest?.lines ?? []} />
      <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap", mt: 1.5 }}>
        <Button component={Link} to={`/brewers/${id}/plan?way=${way.id}&side=${way.circuit_id}`} variant="contained">
          Plan it so
        </Button>
        <Button component={Link} to={`/brewers/${id}/ways/${way.id}`} variant="outlined">
          Show somebody how
        </Button>
        <Button component="a" href={`/api/ways/${way.id}/file`} download="murlo-way.json" variant="outlined">
          As a file
        </Button>
        <Button
          variant="outlined"
          color="inherit"
          disabled={remove.isPending}
          onClick={() =>
            remove.mutate(undefined, {
              onSuccess: () => offerUndo({ text: `“${way.name}” was put away`, undo: () => restore.mutate(undefined) }),
            })
          }
        >
          Put away
        </Button>
      </Stack>
      <CopyTo way={way} from={id} />
      {earlier.length > 0 && (
        <Box sx={{ mt: 1 }}>
          <Button aria-expanded={all} onClick={() => setAll(!all)}>
            {all ? "Hide what it was" : "What it was before"}
          </Button>
          <Collapse in={all} unmountOnExit>
            {earlier.map((revision, i) => (
              <Box key={earlier.length - i} sx={{ borderTop: 1, borderColor: "divider", py: 1 }}>
                <Typography>
                  <strong>{revision.text}</strong>
                </Typography>
                <Lines lines={revision.lines} />
              </Box>
            ))}
          </Collapse>
        </Box>
      )}
      <ErrorNotice error={("name" in fields ? null : rename.error) ?? remove.error ?? restore.error} />
    </Paper>
  );
}

/** Takes a way to another brewer; it is run on that one before it is kept. */
function CopyTo({ way, from }: { way: Schemas["WayShown"]; from: string }) {
  const counter = useQuery(queries.counter());
  const others = (counter.data?.brewers ?? []).filter((card) => card.id !== from);
  const copy = useChange((brewer: string) =>
    send.keepWay(brewer, { id: newId(), name: way.name, from: { kind: "way", way_id: way.id } }),
  );
  const [to, setTo] = useState("");
  if (others.length === 0) return null;
  return (
    <Box sx={{ mt: 1.5 }}>
      <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap", alignItems: "center" }}>
        <TextField
          select
          label="Copy it to"
          value={to}
          onChange={(event) => setTo(event.target.value)}
          sx={{ flex: "0 1 360px" }}
        >
          {others.map((card) => (
            <MenuItem key={card.id} value={card.id}>
              {card.nickname}, {card.home}
            </MenuItem>
          ))}
        </TextField>
        <Button variant="outlined" disabled={to === "" || copy.isPending} onClick={() => copy.mutate(to)}>
          Copy
        </Button>
      </Stack>
      {copy.data && (
        <Typography role="status" sx={{ mt: 1 }}>
          Copied. <Link to={`/brewers/${copy.variables}/ways`}>See it there</Link>
        </Typography>
      )}
      <ErrorNotice error={copy.error} />
    </Box>
  );
}

/** A way that another household sent as a file. */
function OpenFile({ id, brewer }: { id: string; brewer: Schemas["BrewerView"] }) {
  const input = useRef<HTMLInputElement>(null);
  const sides = brewer.card.circuits;
  const [side, setSide] = useState(sides[0]?.circuit_id ?? "");
  const open = useChange(async (file: File) => {
    const read = await file
      .text()
      .then(JSON.parse)
      .catch(() => null);
    if (read === null) throw new Error(`${file.name} cannot be read: give a way that Murlo wrote as a file`);
    return send.keepWay(id, {
      id: newId(),
      name: typeof read.name === "string" ? read.name : "",
      circuit_id: side,
      from: { kind: "file", file: read },
    });
  });
  return (
    <Paper component="section" aria-label="From a file" sx={{ p: 2 }}>
      <Typography sx={{ mb: 1 }}>
        A way that somebody sent as a file is tried on this brewer before it is kept, with what is in your cupboard.
      </Typography>
      <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap", alignItems: "center" }}>
        {sides.length > 1 && (
          <TextField select label="For" value={side} onChange={(event) => setSide(event.target.value)}>
            {sides.map((one) => (
              <MenuItem key={one.circuit_id} value={one.circuit_id}>
                {one.name}
              </MenuItem>
            ))}
          </TextField>
        )}
        <Button variant="outlined" disabled={open.isPending} onClick={() => input.current?.click()}>
          Open a file
        </Button>
        <input
          ref={input}
          type="file"
          accept="application/json,.json"
          aria-label="File of a way"
          hidden
          onChange={(event) => {
            const file = event.target.files?.[0];
            event.target.value = "";
            if (file) open.mutate(file);
          }}
        />
      </Stack>
      <ErrorNotice error={open.error} />
    </Paper>
  );
}
