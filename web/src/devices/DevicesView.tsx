import { Button, Chip, Stack, Typography } from "@mui/material";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type Schemas, send, useChange } from "../api/client";
import { queries } from "../api/queries";
import { ErrorNotice, Ready } from "../ui/Notices";
import { useUndo } from "../ui/Undo";
import { LetIn } from "./LetIn";

/** Who may come in, and what comes in with it. */
export function DevicesView({ session, homes }: { session: Schemas["Session"]; homes: Schemas["Home"][] }) {
  const devices = useQuery(queries.devices(session.guarded && session.is_full));
  const cache = useQueryClient();
  const signOut = useChange(async () => {
    await send.signOut();
    // What is kept for times without a line is this household's, not this device's.
    await window.caches?.delete("murlo-answers");
    cache.clear();
    window.location.assign("/");
  });
  if (!session.guarded) {
    return (
      <Typography>
        Only this machine reaches this household. For the phones of a home, start it with{" "}
        <code>murlo serve --home</code>: it then shows a code to scan.
      </Typography>
    );
  }
  return (
    <Stack spacing={2}>
      {session.name && (
        <Stack direction="row" sx={{ gap: 2, flexWrap: "wrap", alignItems: "center" }}>
          <Typography sx={{ overflowWrap: "anywhere" }}>
            This is <strong>{session.name}</strong>
            {session.person && `, ${session.person}'s`}.
          </Typography>
          <Button variant="outlined" onClick={() => signOut.mutate(undefined)} disabled={signOut.isPending}>
            Sign this device out
          </Button>
        </Stack>
      )}
      {session.is_full && (
        <>
          <LetIn homes={homes} />
          <Ready query={devices}>{(view) => <DeviceList devices={view.devices} />}</Ready>
          {session.own_authority && (
            <Typography color="textSecondary" sx={{ overflowWrap: "anywhere" }}>
              Fingerprint of this household's certificate: {session.own_authority.fingerprint}
            </Typography>
          )}
        </>
      )}
      <ErrorNotice error={signOut.error} />
    </Stack>
  );
}

function DeviceList({ devices }: { devices: Schemas["DeviceView"][] }) {
  const undo = useUndo();
  const back = useChange(send.takeDeviceBack);
  const forget = useChange(send.forgetDevice);
  return (
    <>
      <Stack component="ul" aria-label="Devices" sx={{ listStyle: "none", p: 0, m: 0 }}>
        {devices.map((device) => (
          <Stack
            component="li"
            key={device.id}
            direction="row"
            sx={{
              justifyContent: "space-between",
              alignItems: "center",
              gap: 1,
              borderTop: 1,
              borderColor: "divider",
              py: 0.5,
            }}
          >
            <Stack sx={{ minWidth: 0 }}>
              <Typography sx={{ overflowWrap: "anywhere" }}>
                <strong>{device.name}</strong>
                {device.person && ` · ${device.person}`}{" "}
                {device.is_this && <Chip size="small" label="this one" variant="outlined" />}
              </Typography>
              <Typography color="textSecondary">
                {device.may} · seen {device.seen}
              </Typography>
            </Stack>
            {!device.is_this && (
              <Button
                aria-label={`Forget ${device.name}`}
                disabled={forget.isPending}
                onClick={() =>
                  forget.mutate(device.id, {
                    onSuccess: () => undo({ text: `${device.name} is signed out`, undo: () => back.mutate(device.id) }),
                  })
                }
              >
                Forget
              </Button>
            )}
          </Stack>
        ))}
      </Stack>
      <ErrorNotice error={forget.error ?? back.error} />
    </>
  );
}
