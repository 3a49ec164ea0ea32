import { Button, Link, Stack, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link as RouterLink } from "react-router";
import { Refused, send, useChange } from "../api/client";
import { newId } from "../api/newId";
import { queries } from "../api/queries";
import { ErrorNotice } from "./Notices";

/** Words that go by mail to the people of a home, or wait in the outbox where no mail server is named. */
export function MailText({ subject, text, home }: { subject: string; text: string; home: string }) {
  const known = useQuery(queries.household()).data?.homes.find((one) => one.id === home)?.mail ?? "";
  const sends = useQuery(queries.letters()).data?.sends ?? false;
  const [typed, setTyped] = useState<string>();
  // The same letter pressed twice is one letter; what is written anew is another.
  const [id, setId] = useState(newId);
  const to = typed ?? known;
  const mail = useChange(() => send.letter(id, { to, subject, text }));
  const wrong = mail.error instanceof Refused ? mail.error.fields.to : undefined;
  const went = mail.data;
  return (
    <Stack
      component="form"
      // What is wrong with an address is said by the household, in words.
      noValidate
      spacing={1}
      sx={{ pt: 1 }}
      onSubmit={(event) => {
        event.preventDefault();
        mail.mutate(undefined);
      }}
    >
      <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap", alignItems: "flex-start" }}>
        <TextField
          label="Mail goes to"
          type="email"
          value={to}
          onChange={(event) => {
            setTyped(event.target.value);
            setId(newId());
            mail.reset();
          }}
          error={wrong !== undefined}
          helperText={wrong ?? (known === "" ? "Told on the home’s sheet, it stands here by itself" : "")}
          sx={{ flex: "1 1 240px" }}
        />
        <Button type="submit" variant="outlined" disabled={mail.isPending || went !== undefined} sx={{ minHeight: 56 }}>
          {sends ? "Mail it" : "Put it in the outbox"}
        </Button>
      </Stack>
      {wrong === undefined && <ErrorNotice error={mail.error} />}
      {went && (
        <Typography role="status">
          {went.is_sent ? `Mailed to ${went.letter.to}. ` : (went.trouble ?? "It waits to be mailed. ")}{" "}
          <Link component={RouterLink} to="/round/outbox">
            See the outbox
          </Link>
        </Typography>
      )}
    </Stack>
  );
}
