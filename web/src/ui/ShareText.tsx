import { Button, Stack, TextField, Typography } from "@mui/material";
import { useRef, useState } from "react";
import { MailText } from "./MailText";

/** Words to send: by the device's own sheet where it has one, copied, or by mail. Nothing leaves by itself. */
export function ShareText({ title, text, home }: { title: string; text: string; home: string }) {
  const field = useRef<HTMLTextAreaElement>(null);
  const [said, setSaid] = useState("");
  const canShare = typeof navigator.share === "function";
  const copy = async () => {
    try {
      await navigator.clipboard.writeText(text);
      setSaid("Copied.");
    } catch {
      // Where a page may not copy, the words are marked for a hand to do it.
      field.current?.select();
      setSaid("Marked: copy it with your keys, or hold it.");
    }
  };
  return (
    <Stack spacing={1} sx={{ mt: 1 }} className="screen-only">
      <TextField
        label="What is sent"
        value={text}
        multiline
        inputRef={field}
        slotProps={{ input: { readOnly: true } }}
      />
      <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap", alignItems: "center" }}>
        {canShare && (
          <Button variant="outlined" onClick={() => navigator.share({ title, text }).catch(() => setSaid("Not sent."))}>
            Share
          </Button>
        )}
        <Button variant="outlined" onClick={copy}>
          Copy
        </Button>
        <Typography role="status">{said}</Typography>
      </Stack>
      <MailText subject={title} text={text} home={home} />
    </Stack>
  );
}
