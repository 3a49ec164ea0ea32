import { mdiCheckBold, mdiClose } from "@mdi/js";
import { Button, Stack, SvgIcon, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import { askToCallBack, ring } from "../clean/callBack";

type Works = { what: string; works: boolean; why: string };

/** What a browser gives to pages that nobody on the way can read, and to no other. */
const onlySecure = "only over the address that begins with https";

function asked(offline: boolean): Works[] {
  const secure = window.isSecureContext;
  const allowed = "Notification" in window ? Notification.permission : "none";
  return [
    { what: "Rings while its page is open", works: "AudioContext" in window, why: "this browser makes no sound" },
    {
      what: "Calls while another page is open",
      works: allowed === "granted",
      why: !secure
        ? onlySecure
        : allowed === "default"
          ? "it was not asked yet: Try the sound asks"
          : "it was not allowed here",
    },
    { what: "Keeps its screen on in a clean", works: "wakeLock" in navigator, why: secure ? "not here" : onlySecure },
    {
      what: "Goes on without a line",
      works: offline,
      why: secure ? "the certificate is not trusted on this device" : onlySecure,
    },
    { what: "Copies with a touch", works: "clipboard" in navigator, why: `${onlySecure}; else it marks the words` },
    { what: "Shares to other people", works: "share" in navigator, why: secure ? "not here" : onlySecure },
  ];
}

/** What this device can do, with a tick or the reason. */
export function WhatWorks() {
  const [offline, setOffline] = useState(false);
  const [, setAgain] = useState(0);
  useEffect(() => {
    navigator.serviceWorker?.getRegistration().then(
      (worker) => setOffline(worker !== undefined),
      () => {},
    );
  }, []);
  return (
    <Stack spacing={1}>
      <Typography variant="h3">What works on this device</Typography>
      <Stack component="ul" sx={{ listStyle: "none", p: 0, m: 0, gap: 0.5 }}>
        {asked(offline).map(({ what, works, why }) => (
          <Stack component="li" key={what} direction="row" spacing={1} sx={{ alignItems: "flex-start" }}>
            <SvgIcon fontSize="small" color={works ? "success" : "warning"} titleAccess={works ? "Works" : "Does not"}>
              <path d={works ? mdiCheckBold : mdiClose} />
            </SvgIcon>
            <Typography>{works ? what : `${what}: no, ${why}`}</Typography>
          </Stack>
        ))}
      </Stack>
      <Stack direction="row">
        <Button
          variant="outlined"
          onClick={() => {
            askToCallBack();
            ring();
            setTimeout(() => setAgain((n) => n + 1), 2000);
          }}
        >
          Try the sound
        </Button>
      </Stack>
    </Stack>
  );
}
