import { Box, Button, Paper, Stack, TextField, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Refused, type Schemas, send, useChange } from "../api/client";
import { queries } from "../api/queries";
import { CopyButton } from "../ui/CopyButton";
import { DayField } from "../ui/DayField";
import { ErrorNotice } from "../ui/Notices";
import { useNow } from "../ui/useNow";

const kinds: [Schemas["InviteKind"], string, string][] = [
  ["full", "Somebody of the home", "May do everything."],
  ["helper", "A helper", "Plans, does and logs. No prices, no devices, no settings."],
  [
    "counts",
    "A plug that counts",
    "Tells what one brewer brews, and nothing else. Your home's own automation sends it.",
  ],
  ["look", "A client who looks", "One home: what was done, acid or not, when it is due. By a link that ends."],
];

/** Lets a device in by a code to scan, or a client by a link. */
export function LetIn({ homes }: { homes: Schemas["Home"][] }) {
  const brewers = useQuery(queries.counter()).data?.brewers ?? [];
  const [brewer, setBrewer] = useState("");
  const [may, setMay] = useState<Schemas["InviteKind"]>("full");
  const [home, setHome] = useState("");
  const [until, setUntil] = useState("");
  const [person, setPerson] = useState("");
  const [invited, setInvited] = useState<(Schemas["Invited"] & { ends: number }) | null>(null);
  const invite = useChange(send.invite);
  const wrong = (field: string) => (invite.error instanceof Refused ? invite.error.fields[field] : undefined);
  const make = () =>
    invite.mutate(
      may === "counts"
        ? { may, brewer_id: brewer || null }
        : may === "look"
          ? { may, home_id: home || null, until: until || null, person }
          : { may },
      {
        onSuccess: (made) => setInvited({ ...made, ends: Date.now() + 1000 * (made.holds_s ?? 0) }),
      },
    );
  return (
    <Stack spacing={1.5}>
      <ToggleButtonGroup
        exclusive
        value={may}
        aria-label="Who is to come in?"
        onChange={(_, next) => {
          if (!next) return;
          setMay(next);
          setInvited(null);
        }}
        sx={{ flexWrap: "wrap" }}
      >
        {kinds.map(([kind, name]) => (
          <ToggleButton key={kind} value={kind} sx={{ minHeight: 44 }}>
            {name}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <Typography>{kinds.find(([kind]) => kind === may)?.[2]}</Typography>
      {may === "look" && (
        <Stack direction="row" sx={{ gap: 2, flexWrap: "wrap" }}>
          <TextField
            select
            label="Home"
            value={home}
            onChange={(e) => setHome(e.target.value)}
            error={wrong("home_id") !== undefined}
            helperText={wrong("home_id")}
            slotProps={{ select: { native: true }, inputLabel: { shrink: true } }}
            sx={{ minWidth: 200 }}
          >
            <option value="">Choose</option>
            {homes.map((one) => (
              <option key={one.id} value={one.id}>
                {one.name}
              </option>
            ))}
          </TextField>
          <DayField label="Until" value={until} onChange={setUntil} error={wrong("until")} />
          <TextField label="Who gets it?" value={person} onChange={(e) => setPerson(e.target.value)} />
        </Stack>
      )}
      {may === "counts" && (
        <TextField
          select
          label="Brewer"
          value={brewer}
          onChange={(e) => setBrewer(e.target.value)}
          error={wrong("brewer_id") !== undefined}
          helperText={wrong("brewer_id")}
          slotProps={{ select: { native: true }, inputLabel: { shrink: true } }}
          sx={{ maxWidth: 320 }}
        >
          <option value="">Choose</option>
          {brewers.map((one) => (
            <option key={one.id} value={one.id}>
              {one.nickname}
            </option>
          ))}
        </TextField>
      )}
      <Stack direction="row">
        <Button variant="contained" onClick={make} disabled={invite.isPending}>
          {may === "look" ? "Make a link" : may === "counts" ? "Make a token" : "Let a device in"}
        </Button>
      </Stack>
      {!wrong("home_id") && !wrong("until") && !wrong("brewer_id") && <ErrorNotice error={invite.error} />}
      {invited && <WayIn invited={invited} />}
    </Stack>
  );
}

function WayIn({ invited }: { invited: Schemas["Invited"] & { ends: number } }) {
  const left = invited.ends - useNow();
  const first = invited.ways[0];
  if (invited.code && left <= 0) return <Typography role="status">This code is over. Make a new one.</Typography>;
  return (
    <Paper variant="outlined" sx={{ p: 2 }} role="status">
      <Stack direction={{ xs: "column", sm: "row" }} spacing={2} sx={{ alignItems: { sm: "center" } }}>
        {first && !invited.command && (
          <Box
            component="img"
            alt="The address, to scan with a phone"
            src={`data:image/svg+xml;utf8,${encodeURIComponent(first.picture)}`}
            sx={{ width: 200, height: 200, bgcolor: "#fff", p: 1, flexShrink: 0 }}
          />
        )}
        <Stack spacing={1} sx={{ minWidth: 0 }}>
          {invited.command ? (
            <>
              <Typography>This tells of one brew now. Its token is shown only here; Forget cuts it off.</Typography>
              <Typography component="code" sx={{ overflowWrap: "anywhere", fontFamily: "monospace" }}>
                {invited.command}
              </Typography>
              <CopyButton label="Copy the command" text={invited.command} />
            </>
          ) : invited.code ? (
            <>
              <Typography>Scan this with the device, or open an address there and type the code.</Typography>
              <Typography sx={{ fontSize: "2rem", fontWeight: 700, letterSpacing: 1 }}>{invited.code}</Typography>
              <Typography>It takes in one device, within five minutes.</Typography>
            </>
          ) : (
            <>
              <Typography>Whoever has this link sees that home. It is shown only now.</Typography>
              {first && <CopyButton label="Copy the link" text={first.address} />}
            </>
          )}
          {(invited.command ? [] : invited.ways).map((way) => (
            <Typography key={way.address} color="textSecondary" sx={{ overflowWrap: "anywhere" }}>
              {invited.code ? way.address.split("#")[0] : way.address}
            </Typography>
          ))}
        </Stack>
      </Stack>
    </Paper>
  );
}
