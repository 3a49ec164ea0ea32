import { Button, Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { CopyButton } from "./CopyButton";
import { MailText } from "./MailText";

/** Words to send: by the device's own sheet where it has one, copied, or by mail. Nothing leaves by itself. */
export function ShareText({ title, text, home }: { title: string; text: string; home: string }) {
  const [said, setSaid] = useState("");
  const canShare = typeof navigator.share === "function";
  return (
    <Stack spacing={1} sx={{ mt: 1 }} className="screen-only">
      <TextField label="What is sent" value={text} multiline slotProps={{ input: { readOnly: true } }} />
      <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap", alignItems: "center" }}>
        {canShare && (
          <Button variant="outlined" onClick={() => navigator.share({ title, text }).catch(() => setSaid("Not sent."))}>
            Share
          </Button>
        )}
        <CopyButton label="Copy" text={text} />
        <Typography role="status">{said}</Typography>
      </Stack>
      <MailText subject={title} text={text} home={home} />
    </Stack>
  );
}
