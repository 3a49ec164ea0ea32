import { Box, Button, Stack, TextField, Typography } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { Refused, type Schemas, send } from "../api/client";
import { ErrorNotice, Page } from "../ui/Notices";
import { TrustSteps } from "./TrustSteps";

/** What a device is called unless somebody says otherwise. */
function kindOfDevice() {
  const told = navigator.userAgent;
  if (/iPad|Tablet/i.test(told)) return "Tablet";
  return /Mobi|Android|iPhone/i.test(told) ? "Phone" : "Computer";
}

/** A device that comes in: it is helped to trust the household first, then says what it is called and whose it is. */
export function PairPage({ session }: { session: Schemas["Session"] }) {
  const { hash } = useLocation();
  const code = decodeURIComponent(hash.slice(1));
  const toTrust = session.own_authority && !session.is_secure;
  return (
    <Box component="main" sx={{ maxWidth: 560, mx: "auto", mt: { xs: 1, md: 6 }, p: 2 }}>
      {toTrust && session.own_authority ? (
        <TrustSteps authority={session.own_authority} code={code} />
      ) : (
        <ComeIn scanned={code} />
      )}
    </Box>
  );
}

function ComeIn({ scanned }: { scanned: string }) {
  const cache = useQueryClient();
  const navigate = useNavigate();
  const [code, setCode] = useState(scanned);
  const [name, setName] = useState(kindOfDevice);
  const [person, setPerson] = useState("");
  const [error, setError] = useState<Error | null>(null);
  const [sending, setSending] = useState(false);
  const wrong = (field: string) => (error instanceof Refused ? error.fields[field] : undefined);
  const submit = async () => {
    setSending(true);
    try {
      await send.pair({ code, name, person });
      await cache.invalidateQueries();
      navigate("/", { replace: true });
    } catch (refused) {
      setError(refused as Error);
      setSending(false);
    }
  };
  return (
    <Page title="Come in">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          submit();
        }}
      >
        <Stack spacing={2}>
          <TextField
            label="Code"
            value={code}
            onChange={(e) => setCode(e.target.value)}
            error={wrong("code") !== undefined}
            helperText={wrong("code") ?? "Eight letters and digits, such as K7QM-2XPD. It holds five minutes."}
            slotProps={{ htmlInput: { autoCapitalize: "characters", autoComplete: "off", spellCheck: false } }}
          />
          <TextField
            label="This device is called"
            value={name}
            onChange={(e) => setName(e.target.value)}
            error={wrong("name") !== undefined}
            helperText={wrong("name") ?? "Phone in the hall"}
          />
          <TextField
            label="Whose is it?"
            value={person}
            onChange={(e) => setPerson(e.target.value)}
            error={wrong("person") !== undefined}
            helperText={wrong("person") ?? "Stands beside what is done on it; may stay empty"}
          />
          <Button type="submit" variant="contained" size="large" disabled={sending} sx={{ minHeight: 56 }}>
            Sign this device in
          </Button>
        </Stack>
      </form>
      {!wrong("code") && !wrong("name") && !wrong("person") && <ErrorNotice error={error} />}
      <Typography color="textSecondary">It stays signed in for half a year, or until somebody forgets it.</Typography>
    </Page>
  );
}
