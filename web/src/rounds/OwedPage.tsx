import { Box, Button, Chip, Link, Paper, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link as RouterLink, useSearchParams } from "react-router";
import { type Schemas, send, useChange } from "../api/client";
import { queries } from "../api/queries";
import { ErrorNotice, Page, Ready } from "../ui/Notices";
import { ShareText } from "../ui/ShareText";
import { dayText } from "../ui/useClock";

/** The bills of a month, home by home: as a page to print, a table, or words to send. */
export function OwedPage() {
  const [asked, ask] = useSearchParams();
  const day = asked.get("month") ?? "";
  const owed = useQuery(queries.owed(day));
  const go = (month: string) => ask(month === "" ? {} : { month });
  return (
    <Page
      title="Who owes what"
      aside={
        <Stack direction="row" className="screen-only" sx={{ gap: 1, flexWrap: "wrap" }}>
          <Button component={RouterLink} to="/round/outbox">
            Outbox
          </Button>
          <Button component={RouterLink} to="/round">
            Back to the round
          </Button>
        </Stack>
      }
    >
      <Ready query={owed}>{(view) => <Month owed={view} go={go} />}</Ready>
    </Page>
  );
}

function Month({ owed, go }: { owed: Schemas["Owed"]; go: (month: string) => void }) {
  const today = useQuery(queries.round()).data?.today ?? "";
  const pay = useChange(({ visit, home, on }: { visit: string; home: string; on: string | null }) =>
    send.paid(visit, { home_id: home, on }),
  );
  const all = useChange(async (home: Schemas["OwedHome"]) => {
    for (const visit of home.visits.filter((one) => one.paid_on == null && one.total !== 0))
      await send.paid(visit.visit_id, { home_id: home.home_id, on: today });
  });
  const isBusy = pay.isPending || all.isPending;
  return (
    <Stack spacing={2}>
      <Stack direction="row" sx={{ alignItems: "center", gap: 1, flexWrap: "wrap" }}>
        <Typography variant="h2">{owed.name}</Typography>
        <Typography color="textSecondary" sx={{ flexGrow: 1 }}>
          {owed.text}
        </Typography>
        <Stack direction="row" className="screen-only" sx={{ flexWrap: "wrap", gap: 1 }}>
          <Button onClick={() => go(owed.before)}>The month before</Button>
          <Button onClick={() => go(owed.after)}>The month after</Button>
          <Button variant="outlined" onClick={() => window.print()}>
            Print
          </Button>
          <Button variant="outlined" component="a" href={`/api/owed.csv?day=${owed.month}`} download>
            As a table
          </Button>
        </Stack>
      </Stack>
      {owed.homes.length === 0 && <Typography>No visit was closed in this month.</Typography>}
      {owed.homes.length > 0 && (
        <Typography sx={{ fontSize: "1.15rem" }}>
          Together <strong>{owed.total_text}</strong>, {owed.open_text}.
        </Typography>
      )}
      {owed.earlier.length > 0 && (
        <Stack direction="row" className="screen-only" sx={{ gap: 1, flexWrap: "wrap", alignItems: "center" }}>
          <Typography>From before:</Typography>
          {owed.earlier.map((one) => (
            <Chip key={one.month} label={one.text} clickable onClick={() => go(one.month)} sx={{ minHeight: 44 }} />
          ))}
        </Stack>
      )}
      <ErrorNotice error={pay.error ?? all.error} />
      {owed.homes.map((home) => (
        <Home
          key={home.home_id}
          home={home}
          month={owed.name}
          isBusy={isBusy}
          pay={(visit, on) => pay.mutate({ visit, home: home.home_id, on })}
          payAll={() => all.mutate(home)}
          today={today}
        />
      ))}
    </Stack>
  );
}

function Home({
  home,
  month,
  isBusy,
  pay,
  payAll,
  today,
}: {
  home: Schemas["OwedHome"];
  month: string;
  isBusy: boolean;
  pay: (visit: string, on: string | null) => void;
  payAll: () => void;
  today: string;
}) {
  const [open, setOpen] = useState(false);
  return (
    <Paper component="section" aria-label={home.name} sx={{ p: 2, breakInside: "avoid" }}>
      <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap", alignItems: "baseline" }}>
        <Typography variant="h3" sx={{ flexGrow: 1, overflowWrap: "anywhere" }}>
          {home.name}
        </Typography>
        <Typography sx={{ fontSize: "1.15rem" }}>
          <strong>{home.total_text}</strong> · {home.open_text}
        </Typography>
      </Stack>
      <Typography color="textSecondary">{home.text}</Typography>
      <Box component="ul" sx={{ listStyle: "none", p: 0, m: 0 }}>
        {home.visits.map((visit) => (
          <Stack
            component="li"
            key={visit.visit_id}
            direction="row"
            sx={{ gap: 1, py: 1, borderTop: 1, borderColor: "divider", flexWrap: "wrap", alignItems: "flex-start" }}
          >
            <Box sx={{ flex: "1 1 260px", minWidth: 0 }}>
              <Typography>
                <Link component={RouterLink} to={`/visits/${visit.visit_id}`}>
                  {dayText(visit.day)}
                </Link>
                , {visit.time_text} there: <strong>{visit.total_text}</strong>
                {visit.paid_on != null && ` · paid ${dayText(visit.paid_on)}`}
              </Typography>
              {visit.lines.map((line) => (
                <Typography
                  key={line}
                  variant="body2"
                  color="textSecondary"
                  sx={{ textDecoration: visit.is_gift ? "line-through" : "none", overflowWrap: "anywhere" }}
                >
                  {line}
                </Typography>
              ))}
            </Box>
            {visit.total !== 0 && (
              <Button
                className="screen-only"
                variant={visit.paid_on == null ? "outlined" : "text"}
                disabled={isBusy}
                aria-label={`${visit.paid_on == null ? "Paid" : "Not paid after all"}: ${home.name}, ${dayText(visit.day)}`}
                onClick={() => pay(visit.visit_id, visit.paid_on == null ? today : null)}
              >
                {visit.paid_on == null ? "Paid" : "Not paid after all"}
              </Button>
            )}
          </Stack>
        ))}
      </Box>
      <Stack direction="row" className="screen-only" sx={{ gap: 1, flexWrap: "wrap", mt: 1 }}>
        {home.open > 0 && home.visits.length > 1 && (
          <Button variant="outlined" disabled={isBusy} onClick={payAll}>
            All of it is paid
          </Button>
        )}
        <Button onClick={() => setOpen(!open)} aria-expanded={open}>
          {open ? "Fold" : "Send it"}
        </Button>
      </Stack>
      {open && <ShareText title={`${home.name}, ${month}`} text={home.letter} home={home.home_id} />}
    </Paper>
  );
}
