import { Box, Button, Paper, Stack, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { Page } from "../ui/Notices";
import { PhoneScreen } from "./PhoneScreen";

type Step = { says: string; rows: string[]; touch: number; turns?: boolean };

/** Where each of the two usual phone systems keeps what it trusts; the words are theirs and may differ a little. */
const systems: Record<"iphone" | "android", { name: string; steps: Step[] }> = {
  iphone: {
    name: "iPhone, iPad",
    steps: [
      { says: "Take the certificate above, and allow it.", rows: ["Allow", "Ignore"], touch: 0 },
      {
        says: "Settings: Profile Downloaded, then Install.",
        rows: ["Settings", "Profile Downloaded", "Wi-Fi"],
        touch: 1,
      },
      {
        says: "Settings, General, About, Certificate Trust Settings: switch Murlo on.",
        rows: ["About", "Certificate Trust Settings", "Murlo"],
        touch: 2,
        turns: true,
      },
    ],
  },
  android: {
    name: "Android",
    steps: [
      { says: "Take the certificate above.", rows: ["Downloads", "murlo.crt"], touch: 1 },
      {
        says: "Settings, Security and privacy, More, Encryption and credentials.",
        rows: ["Security and privacy", "More", "Encryption and credentials"],
        touch: 2,
      },
      {
        says: "Install a certificate, CA certificate, Install anyway; then choose murlo.crt.",
        rows: ["CA certificate", "VPN certificate", "Wi-Fi certificate"],
        touch: 0,
      },
    ],
  },
};

/** How a device is brought to trust the household's own certificate, drawn; and how to go on without. */
export function TrustSteps({ authority, code }: { authority: Schemas["OwnAuthority"]; code: string }) {
  const [system, setSystem] = useState<keyof typeof systems>(
    /iPhone|iPad|Mac/i.test(navigator.userAgent) ? "iphone" : "android",
  );
  const onward = authority.addresses.map((address) => `${address}/pair${code && `#${code}`}`);
  // By the name it was asked under where that is one of them: it is reached for sure.
  const here = onward.find((address) => new URL(address).hostname === window.location.hostname) ?? onward[0];
  const others = onward.filter((address) => address !== here);
  return (
    <Page title="Let this device trust Murlo">
      <Typography>
        Once, so that nobody on your network reads along and Murlo works at the counter without a line. It can vouch for
        this household only, and for nothing else.
      </Typography>
      <Button variant="contained" size="large" href="/authority.crt" download="murlo.crt" sx={{ minHeight: 56 }}>
        Take the certificate
      </Button>
      <ToggleButtonGroup
        exclusive
        fullWidth
        value={system}
        onChange={(_, next) => next && setSystem(next)}
        aria-label="Which kind of device is it?"
      >
        {Object.entries(systems).map(([key, { name }]) => (
          <ToggleButton key={key} value={key} sx={{ minHeight: 44 }}>
            {name}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <Stack component="ol" spacing={1.5} sx={{ p: 0, m: 0, listStyle: "none" }}>
        {systems[system].steps.map((step, n) => (
          <Stack component="li" key={step.says} direction="row" spacing={2} sx={{ alignItems: "center" }}>
            <Box sx={{ width: 96, flexShrink: 0 }}>
              <PhoneScreen rows={step.rows} touch={step.touch} turns={step.turns ?? false} />
            </Box>
            <Typography>
              <strong>{n + 1}. </strong>
              {step.says}
            </Typography>
          </Stack>
        ))}
      </Stack>
      {here && (
        <Button variant="contained" size="large" href={here} sx={{ minHeight: 56 }}>
          It is trusted: go on
        </Button>
      )}
      {others.length > 0 && (
        <Typography>
          If that page is not found:{" "}
          {others.map((address, n) => (
            <span key={address}>
              {n > 0 && ", "}
              <a href={address}>{new URL(address).host}</a>
            </span>
          ))}
        </Typography>
      )}
      <Paper sx={{ p: 2 }}>
        <Typography variant="h2">Go on without</Typography>
        <Typography sx={{ my: 1 }}>
          Your browser warns of the address, and goes on if you say so. Then it does not work without a line, and it may
          not call while another page is open.
        </Typography>
        {here && (
          <Button variant="outlined" href={here}>
            Go on without
          </Button>
        )}
      </Paper>
      <Typography color="textSecondary" sx={{ overflowWrap: "anywhere" }}>
        On a device that is signed in, Household shows the same fingerprint: {authority.fingerprint}
      </Typography>
    </Page>
  );
}
