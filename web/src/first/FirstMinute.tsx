import { Button, LinearProgress, Paper, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { Schemas } from "../api/client";
import { queries } from "../api/queries";
import { undecided } from "../plan/options";
import { ErrorNotice, Page, Ready } from "../ui/Notices";
import { HowMuch, InTheHouse, WhatGoesIn, WhichBrewer } from "./questions";
import { Result } from "./Result";
import { useAnswers, useKeep } from "./useAnswers";
import { WrittenAs } from "./WrittenAs";

const titles = ["Which of these is yours?", "What goes in?", "How much, how long?", "What is in the house?"] as const;
const views = [WhichBrewer, WhatGoesIn, HowMuch, InTheHouse] as const;

/** Four questions by touch, then the plan. On the Counter of an empty household it is all there is. */
export function FirstMinute({ empty = false }: { empty?: boolean }) {
  const questions = useQuery(queries.firstQuestions());
  return <Ready query={questions}>{(asked) => <Asking questions={asked} empty={empty} />}</Ready>;
}

function Asking({ questions, empty }: { questions: Schemas["FirstQuestions"]; empty: boolean }) {
  const { begun, tell } = useAnswers();
  const [search, setSearch] = useSearchParams();
  // Without a kind there is nothing to go on with.
  const at = begun.answers.family ? Math.min(3, Math.max(0, Number(search.get("question") ?? 1) - 1)) : 0;
  const go = (to: number) => setSearch({ question: String(to + 1) });
  const heading = useRef<HTMLHeadingElement>(null);
  const was = useRef(at);
  useEffect(() => {
    if (was.current !== at) heading.current?.focus();
    was.current = at;
  }, [at]);
  const look = useQuery(queries.firstLook(begun.answers));
  const keep = useKeep(begun);
  const finish = (start: boolean) =>
    keep.mutate({
      start: start ? undecided : null,
      to: (kept) => (kept.clean_id ? `/cleans/${kept.clean_id}` : `/brewers/${kept.brewer_id}`),
    });
  const [already, setAlready] = useState(false);
  // Acid is in the machine: what else there is to know waits.
  const carriesOn = already && at === 0 && begun.answers.family != null;
  const { mutate } = keep;
  useEffect(() => {
    if (carriesOn) mutate({ start: null, to: (kept) => `/brewers/${kept.brewer_id}/begun` });
  }, [carriesOn, mutate]);
  const Question = views[at] ?? WhichBrewer;
  const blocked = begun.answers.comes === "nothing" || begun.answers.comes === "half";
  return (
    <Page title={empty ? "Welcome to Murlo" : "Another brewer"}>
      <Stack direction={{ xs: "column", lg: "row" }} spacing={2} sx={{ alignItems: "flex-start" }}>
        <Paper component="section" aria-label="Questions" sx={{ p: 2, flex: "1 1 0", minWidth: 0, width: "100%" }}>
          <Stack spacing={1.5}>
            <LinearProgress
              variant="determinate"
              value={25 * (at + 1)}
              aria-label={`Question ${at + 1} of 4`}
              sx={{ height: 6, borderRadius: 3 }}
            />
            <Typography variant="h2" ref={heading} tabIndex={-1} sx={{ outline: "none" }}>
              {titles[at]}
            </Typography>
            <Question
              questions={questions}
              answers={begun.answers}
              tell={tell}
              already={{
                is: already,
                say: (is) => {
                  // Which brewer is touched anew.
                  tell({ family: null });
                  setAlready(is);
                },
              }}
              next={() => !already && go(at + 1)}
            />
            {at === 2 && blocked && <Blocked drip={begun.answers.family === "drip"} keep={keep} />}
            {at > 0 && (
              <Stack
                direction="row"
                sx={{
                  justifyContent: "space-between",
                  // The way on stays in sight above the places.
                  position: "sticky",
                  bottom: { xs: 56, md: 0 },
                  bgcolor: "background.paper",
                  py: 0.5,
                }}
              >
                <Button size="large" onClick={() => go(at - 1)}>
                  Back
                </Button>
                {at === 3 && (
                  <Keep
                    fresh={look.data?.card.urgency === "fresh"}
                    disabled={keep.isPending || look.error !== null || !look.data}
                    onKeep={finish}
                  />
                )}
                {at < 3 && (
                  <Button size="large" variant={at === 2 ? "contained" : "text"} onClick={() => go(at + 1)}>
                    {at === 2 ? "Next" : "Skip"}
                  </Button>
                )}
              </Stack>
            )}
          </Stack>
        </Paper>
        {begun.answers.family && at > 0 && (
          <Result look={look} answers={begun.answers} homes={questions.homes} tell={tell} last={at === 3} />
        )}
      </Stack>
      <ErrorNotice error={keep.error} />
      <Stack direction="row" sx={{ flexWrap: "wrap" }}>
        {empty && (
          <>
            <Button component={Link} to="/practice">
              Try it with a made-up brewer
            </Button>
            <Button component={Link} to="/household">
              Bring a household file
            </Button>
          </>
        )}
        <Button component={Link} to="/brewers/new/sheet">
          Fill in the whole sheet
        </Button>
      </Stack>
      {empty && <WrittenAs />}
    </Page>
  );
}

/** Starts the clean, or keeps the brewer for later; the likelier of the two stands out. */
function Keep({ fresh, disabled, onKeep }: { fresh: boolean; disabled: boolean; onKeep: (start: boolean) => void }) {
  const button = { minHeight: 56 } as const;
  return (
    <Stack direction="row" spacing={1}>
      <Button variant={fresh ? "contained" : "outlined"} sx={button} disabled={disabled} onClick={() => onKeep(false)}>
        Keep it for later
      </Button>
      <Button
        variant={fresh ? "outlined" : "contained"}
        size="large"
        sx={button}
        disabled={disabled}
        onClick={() => onKeep(true)}
      >
        Start
      </Button>
    </Stack>
  );
}

/** Nothing or half a cup: a blocked needle is likelier than chalk, and quicker to clear. */
function Blocked({ drip, keep }: { drip: boolean; keep: ReturnType<typeof useKeep> }) {
  const needles = () =>
    keep.mutate({ start: { ...undecided, work: "needles" }, to: (kept) => `/cleans/${kept.clean_id}` });
  const ask = () => keep.mutate({ start: null, to: (kept) => `/trouble?brewer=${kept.brewer_id}` });
  return (
    <Paper sx={{ p: 2, borderColor: "warning.main", borderWidth: 2 }}>
      <Typography sx={{ fontWeight: 700 }}>
        {drip ? "Find out what is in the way first." : "Clear the needles first: it takes a few minutes."}
      </Typography>
      <Stack direction="row" sx={{ mt: 1, gap: 1, flexWrap: "wrap" }}>
        {!drip && (
          <Button variant="contained" disabled={keep.isPending} onClick={needles}>
            Clear the needles now
          </Button>
        )}
        <Button variant="outlined" disabled={keep.isPending} onClick={ask}>
          What is wrong?
        </Button>
      </Stack>
    </Paper>
  );
}
