import {
  Box,
  Button,
  MenuItem,
  Paper,
  Stack,
  TextField,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { type Schemas, send, useChange } from "../api/client";
import { newId } from "../api/newId";
import { queries } from "../api/queries";
import { useEntries } from "../brewer/Journal";
import { ErrorNotice, Loading, Page } from "../ui/Notices";
import { useUndo } from "../ui/Undo";
import { Working } from "../ui/Working";

type Answer = "yes" | "no" | "unknown";

/** What is not a sign that anybody came with: what was tried. */
const isTried = (name: string) => name.startsWith("tried-") || name === "well-after-reseating";

/** From signs to causes, one cheap test at a time; the address holds all answers. */
export function TroublePage() {
  const [search, setSearch] = useSearchParams();
  const brewers = useQuery(queries.counter()).data?.brewers ?? [];
  const brewer = search.get("brewer") ?? "";
  const answers = [...search].filter(([name]) => name !== "brewer");
  const given = answers.map(([name, value]) => `${name}=${value}`).join("&");
  const signs = useMemo(
    () => Object.fromEntries([...new URLSearchParams(given)].map(([name, value]) => [name, value === "yes"])),
    [given],
  );
  // What stands first in the address is what somebody came with.
  const opening = answers.find(([name, value]) => value === "yes" && !isTried(name))?.[0] ?? null;
  const query = useQuery(queries.trouble({ brewer_id: brewer === "" ? null : brewer, signs, opening }));
  const [shown, setShown] = useState<Schemas["TroubleView"]>();
  if (query.data && query.data !== shown) setShown(query.data);
  const view = query.data ?? shown;
  const set = (name: string, value: string) => {
    // The address is ahead of what is drawn when two answers follow each other quickly.
    const next = new URLSearchParams(window.location.search);
    if (value === "" || value === "unknown") next.delete(name);
    else next.set(name, value);
    setSearch(next, { replace: true });
  };
  const answer = (name: string): Answer => {
    const given = search.get(name);
    return given === "yes" || given === "no" ? given : "unknown";
  };
  return (
    <Page
      title="What is wrong?"
      aside={
        answers.length > 0 && (
          <Button variant="outlined" onClick={() => setSearch(brewer === "" ? {} : { brewer }, { replace: true })}>
            Begin again
          </Button>
        )
      }
    >
      <TextField
        select
        label="Which brewer"
        value={brewers.some((b) => b.id === brewer) ? brewer : ""}
        onChange={(e) => set("brewer", e.target.value)}
        sx={{ maxWidth: 420 }}
        slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      >
        <MenuItem value="">None of mine</MenuItem>
        {brewers.map((b) => (
          <MenuItem key={b.id} value={b.id}>
            {b.nickname}
          </MenuItem>
        ))}
      </TextField>
      <ErrorNotice error={query.error} />
      {!view && !query.error && <Loading />}
      {view && (
        <>
          <Paper
            sx={{ p: { xs: 2, md: 3 }, borderWidth: 2, borderColor: view.diagnosis.stop ? "error.main" : "divider" }}
          >
            <Typography variant="h2" component="p" role="status" color={view.diagnosis.stop ? "error" : undefined}>
              {view.diagnosis.text}
            </Typography>
            {view.diagnosis.stop && brewer !== "" && (
              <Danger key={`${brewer} ${given}`} brewer={brewer} signs={signs} />
            )}
            {view.diagnosis.next_test && <Next test={view.diagnosis.next_test} onAnswer={set} />}
          </Paper>
          {!view.diagnosis.stop && answers.length > 0 && (
            <Causes
              causes={view.diagnosis.causes}
              begin={view.diagnosis.begin_with ?? undefined}
              brewer={brewer}
              signs={signs}
              opening={opening}
              working={view.diagnosis.working}
              onTried={(cause, tried) => set(`tried-${cause}`, tried ? "yes" : "")}
            />
          )}
          <Paper sx={{ p: { xs: 2, md: 3 } }}>
            <Typography variant="h2">At once to a qualified repairer</Typography>
            <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1, mt: 1 }}>
              {view.dangers.map((danger) => (
                <Button
                  key={danger.id}
                  color="error"
                  variant={answer(danger.id) === "yes" ? "contained" : "outlined"}
                  aria-pressed={answer(danger.id) === "yes"}
                  onClick={() => set(danger.id, answer(danger.id) === "yes" ? "" : "yes")}
                >
                  {danger.question}
                </Button>
              ))}
            </Stack>
          </Paper>
          <Paper sx={{ p: { xs: 2, md: 3 } }}>
            <Typography variant="h2">What you see</Typography>
            <Typography color="textSecondary">Leave out what you do not know.</Typography>
            <Box sx={{ display: "grid", columnGap: 4, gridTemplateColumns: { xs: "1fr", lg: "1fr 1fr" } }}>
              {view.signs.map((sign) => (
                <Stack
                  key={sign.id}
                  direction="row"
                  sx={{
                    alignItems: "center",
                    justifyContent: "space-between",
                    gap: 2,
                    py: 0.75,
                    borderBottom: 1,
                    borderColor: "divider",
                  }}
                >
                  <Typography id={`sign-${sign.id}`}>{sign.question}</Typography>
                  <ToggleButtonGroup
                    exclusive
                    size="small"
                    aria-labelledby={`sign-${sign.id}`}
                    value={answer(sign.id)}
                    onChange={(_, value: Answer | null) => set(sign.id, value ?? "unknown")}
                  >
                    {(["yes", "no"] as const).map((value) => (
                      <ToggleButton
                        key={value}
                        value={value}
                        sx={{
                          minHeight: 44,
                          px: 2,
                          color: "text.primary",
                          "&.Mui-selected, &.Mui-selected:hover": {
                            bgcolor: "primary.main",
                            color: "primary.contrastText",
                          },
                        }}
                      >
                        {value === "yes" ? "Yes" : "No"}
                      </ToggleButton>
                    ))}
                  </ToggleButtonGroup>
                </Stack>
              ))}
            </Box>
          </Paper>
        </>
      )}
    </Page>
  );
}

function Next({ test, onAnswer }: { test: Schemas["NextTest"]; onAnswer: (sign: string, value: string) => void }) {
  return (
    <Stack spacing={1} sx={{ mt: 2 }}>
      <Typography color="textSecondary">
        The next test, about {test.minutes < 1 ? "half a minute" : `${test.minutes} min`}
      </Typography>
      <Typography sx={{ fontSize: "1.2rem" }}>{test.how}</Typography>
      <Typography sx={{ fontSize: "1.4rem", fontWeight: 700 }}>{test.question}</Typography>
      <Stack direction="row" spacing={1}>
        {(["yes", "no"] as const).map((value) => (
          <Button
            key={value}
            variant="contained"
            size="large"
            sx={{ minHeight: 56, px: 5 }}
            onClick={() => onAnswer(test.sign, value)}
          >
            {value === "yes" ? "Yes" : "No"}
          </Button>
        ))}
      </Stack>
    </Stack>
  );
}

function Causes({
  causes,
  begin,
  brewer,
  signs,
  opening,
  working,
  onTried,
}: {
  causes: Schemas["Ranked"][];
  /** The cause whose remedy comes first. */
  begin: Schemas["Cause"] | undefined;
  brewer: string;
  signs: Record<string, boolean>;
  opening: string | null;
  working: Schemas["Working"][];
  onTried: (cause: string, tried: boolean) => void;
}) {
  return (
    <Paper sx={{ p: { xs: 2, md: 3 } }}>
      <Typography variant="h2">Likely causes</Typography>
      <Stack component="ol" spacing={1.5} sx={{ p: 0, listStyle: "none" }}>
        {causes
          .filter((cause, i) => i < 4 || cause.cause === begin || signs[`tried-${cause.cause}`])
          .map((cause) => (
            <Stack component="li" key={cause.cause} spacing={0.5}>
              <Stack direction="row" spacing={2} sx={{ alignItems: "center" }}>
                <Box sx={{ width: 120, height: 14, border: 1, borderColor: "text.primary", flexShrink: 0 }} aria-hidden>
                  <Box sx={{ width: `${100 * cause.probability}%`, height: "100%", bgcolor: "text.primary" }} />
                </Box>
                <Typography sx={{ fontWeight: cause.cause === (begin ?? causes[0]?.cause) ? 700 : 400 }}>
                  {Math.round(100 * cause.probability)} % {cause.words}
                </Typography>
              </Stack>
              {cause.evidence_for.length > 0 && (
                <Typography variant="body2">Speaks for it: {cause.evidence_for.join(" · ")}</Typography>
              )}
              {cause.evidence_against.length > 0 && (
                <Typography variant="body2" color="textSecondary">
                  Speaks against it: {cause.evidence_against.join(" · ")}
                </Typography>
              )}
              {signs[`tried-${cause.cause}`] && (
                <Box>
                  Tried, and it did not help.{" "}
                  <Button size="small" onClick={() => onTried(cause.cause, false)}>
                    Not tried after all
                  </Button>
                </Box>
              )}
              {cause.cause === begin && (
                <Remedy
                  key={JSON.stringify([brewer, signs])}
                  cause={cause}
                  brewer={brewer}
                  signs={signs}
                  opening={opening}
                  onTried={() => onTried(cause.cause, true)}
                />
              )}
            </Stack>
          ))}
      </Stack>
      <Working working={working} />
    </Paper>
  );
}

const works = { descale: ["Plan the clean", ""], needles: ["Clear the needles", "work=needles&"] } as const;

/** Writes down what was seen; one look is one entry, however often a button is pressed, until it is taken back. */
function useLook(brewer: string, signs: Record<string, boolean>, opening: string | null = null) {
  const offerUndo = useUndo();
  const [id, setId] = useState(newId);
  const note = useChange(() => send.trouble(brewer, { id, signs, opening }));
  const takeBack = useChange(() => send.deleteEntry(brewer, id));
  const undo = () => takeBack.mutate(undefined, { onSuccess: () => setId(newId()) });
  return {
    id,
    error: note.error ?? takeBack.error,
    writeDown: (then: () => void) => note.mutate(undefined, { onSuccess: then }),
    onlyWriteDown: () => note.mutate(undefined, { onSuccess: () => offerUndo({ text: "Written down", undo }) }),
  };
}

function Danger({ brewer, signs }: { brewer: string; signs: Record<string, boolean> }) {
  const look = useLook(brewer, signs);
  return (
    <Box sx={{ mt: 2 }}>
      <Button variant="outlined" sx={{ minHeight: 56 }} onClick={look.onlyWriteDown}>
        Write it down for this brewer
      </Button>
      <ErrorNotice error={look.error} />
    </Box>
  );
}

/** What to do about the likeliest cause; the clean it leads to names what was seen. */
function Remedy({
  cause,
  brewer,
  signs,
  opening,
  onTried,
}: {
  cause: Schemas["Ranked"];
  brewer: string;
  signs: Record<string, boolean>;
  opening: string | null;
  onTried: () => void;
}) {
  const today = useQuery(queries.counter()).data?.today ?? "";
  const entries = useEntries(brewer);
  const navigate = useNavigate();
  const look = useLook(brewer, signs, opening);
  const work = cause.remedy === "descale" || cause.remedy === "needles" ? works[cause.remedy] : undefined;
  return (
    <Stack spacing={1} sx={{ borderLeft: 4, borderColor: "primary.main", pl: 2 }}>
      <Typography>{cause.remedy_text}</Typography>
      <Typography variant="body2" color="textSecondary">
        {cause.remedy === "needles" && "Needles are sharp, and hot after a brew. "}
        The maker’s manual wins; do not open the casing.
      </Typography>
      {brewer === "" ? (
        <Typography variant="body2">Choose the brewer above to write this down and to plan from it.</Typography>
      ) : (
        <Stack direction="row" spacing={1} sx={{ flexWrap: "wrap", rowGap: 1 }}>
          {work && (
            <Button
              variant="contained"
              sx={{ minHeight: 56 }}
              onClick={() => look.writeDown(() => navigate(`/brewers/${brewer}/plan?${work[1]}trouble=${look.id}`))}
            >
              {work[0]}
            </Button>
          )}
          {cause.remedy === "filter" && (
            <Button
              variant="contained"
              sx={{ minHeight: 56 }}
              onClick={() =>
                look.writeDown(() => entries.add(today, { kind: "filter_fitted" }, "New filter, written down"))
              }
            >
              A new filter is in
            </Button>
          )}
          <Button variant={work ? "outlined" : "contained"} sx={{ minHeight: 56 }} onClick={look.onlyWriteDown}>
            Only write it down
          </Button>
        </Stack>
      )}
      {cause.remedy !== "time_cup" && !signs[`tried-${cause.cause}`] && (
        <Box>
          <Button sx={{ minHeight: 44 }} onClick={onTried}>
            Tried it: it did not help
          </Button>
        </Box>
      )}
      <ErrorNotice error={look.error ?? entries.error} />
    </Stack>
  );
}
