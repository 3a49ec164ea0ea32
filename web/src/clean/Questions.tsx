import { Box, Button, Stack, ToggleButton, ToggleButtonGroup, Typography, useMediaQuery } from "@mui/material";
import { type ReactNode, useEffect, useState } from "react";
import type { Schemas } from "../api/client";
import { mayAct } from "../ui/keys";

/** Side by side where there is room. */
const side = { display: "grid", columnGap: 4, rowGap: 2, gridTemplateColumns: { xs: "1fr", lg: "1fr 1fr" } } as const;

/** A phone: there one question stands alone. */
const narrow = "(max-width: 599px)";

/** Answers by question. */
export type Answers = Extract<Schemas["Act"], { kind: "answered" }>["answers"];
type Given = Schemas["AnswerId"];

/** What is asked at the end: what decides first, then what else somebody may have noticed. */
export function Questions({
  questions,
  label,
  onAnswer,
  keysOff = false,
  children,
}: {
  questions: Schemas["Question"][];
  label: string;
  onAnswer: (answers: Answers) => void;
  /** Single keys do nothing. */
  keysOff?: boolean;
  /** What may be measured before answering. */
  children: ReactNode;
}) {
  const oneByOne = useMediaQuery(narrow, { noSsr: true });
  const [answers, setAnswers] = useState<Answers>({});
  const [at, setAt] = useState(0);
  const answer = (question: string, given: Given | null) =>
    setAnswers(({ [question]: _, ...others }) => (given === null ? others : { ...others, [question]: given }));
  const asked = questions.filter((q) => !q.optional);
  const offered = questions.filter((q) => q.optional);
  const alone = oneByOne ? asked[at] : undefined;
  // The first that is not answered yet takes the digits: 1 is its first answer.
  const open = alone ?? asked.find((q) => !answers[q.id]);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const given = open?.answers[Number(event.key) - 1];
      if (!open || !given || !mayAct(event, keysOff)) return;
      event.preventDefault();
      answer(open.id, given.id);
      if (alone) setAt(at + 1);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  });
  const rest = (
    <>
      {offered.length > 0 && <Typography variant="h2">If you noticed</Typography>}
      <Box sx={side}>
        {offered.map((q) => (
          <Question key={q.id} question={q} given={answers[q.id]} onAnswer={(given) => answer(q.id, given)} />
        ))}
      </Box>
      {children}
      <Button
        variant="contained"
        size="large"
        sx={{ minHeight: 64, fontSize: "1.25rem" }}
        disabled={asked.some((q) => !answers[q.id])}
        onClick={() => onAnswer(answers)}
      >
        {label}
      </Button>
    </>
  );
  if (oneByOne)
    return (
      <Stack spacing={2}>
        <Stack direction="row" sx={{ alignItems: "center", gap: 1, minHeight: 56 }}>
          {at > 0 && (
            <Button variant="outlined" sx={{ minHeight: 56 }} onClick={() => setAt(at - 1)}>
              The one before
            </Button>
          )}
          <Typography color="textSecondary" role="status">
            {alone ? `Question ${at + 1} of ${asked.length}` : "All are answered"}
          </Typography>
        </Stack>
        {alone ? (
          <Question
            key={alone.id}
            question={alone}
            given={answers[alone.id]}
            // The same answer once more also goes on.
            onAnswer={(given) => {
              if (given) answer(alone.id, given);
              setAt(at + 1);
            }}
          />
        ) : (
          rest
        )}
      </Stack>
    );
  return (
    <Stack spacing={2}>
      <Box sx={side}>
        {asked.map((q) => (
          <Question key={q.id} question={q} given={answers[q.id]} onAnswer={(given) => given && answer(q.id, given)} />
        ))}
      </Box>
      {rest}
    </Stack>
  );
}

function Question({
  question,
  given,
  onAnswer,
}: {
  question: Schemas["Question"];
  given: string | undefined;
  onAnswer: (given: Given | null) => void;
}) {
  return (
    <Box>
      <Typography id={`q-${question.id}`} sx={{ fontSize: "1.2rem", fontWeight: 700 }}>
        {question.text}
      </Typography>
      <Typography color="textSecondary">{question.how}</Typography>
      <ToggleButtonGroup
        exclusive
        aria-labelledby={`q-${question.id}`}
        value={given ?? null}
        onChange={(_, answer: Given | null) => onAnswer(answer)}
        sx={{ mt: 0.5 }}
      >
        {question.answers.map((a) => (
          <ToggleButton
            key={a.id}
            value={a.id}
            sx={{ minHeight: 56, px: { xs: 2, sm: 3 }, fontSize: "1.1rem", color: "text.primary" }}
          >
            {a.text}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
    </Box>
  );
}
