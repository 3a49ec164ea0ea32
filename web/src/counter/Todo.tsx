import { Box, Button, Stack, TextField, Typography } from "@mui/material";
import { type ReactNode, useState } from "react";
import { Link } from "react-router";
import { useEntries } from "../brewer/Journal";
import { Noticed } from "../brewer/Noticed";
import { clockText } from "../clean/clockText";
import { FirstCoffee } from "../ui/FirstCoffee";
import { ErrorNotice } from "../ui/Notices";
import { typed } from "../ui/typed";
import { useNow } from "../ui/useNow";
import { WorkActs } from "../upkeep/WorkActs";
import type { Todo } from "./today";

/** One line of today's list: what, why, and the way to do it or tick it off. */
export function TodoLine({ todo, today, ahead }: { todo: Todo; today: string; ahead: number }) {
  switch (todo.kind) {
    case "running":
      return (
        <Line
          mark="●"
          what={`${todo.inside.nickname}: ${todo.inside.title ?? "clean"}`}
          why={`${todo.inside.paused ? "Stopped. " : ""}${todo.inside.text}`}
        >
          {todo.inside.timer && !todo.inside.paused && <Left ends={todo.inside.timer.ends_at} ahead={ahead} />}
          <Button component={Link} to={`/cleans/${todo.inside.clean_id}`} variant="contained">
            Carry on
          </Button>
        </Line>
      );
    case "acid":
      return (
        <Line mark="▲" what={`${todo.card.nickname}: ${todo.acid.text}`} why={todo.card.home}>
          <Button component={Link} to={`/cleans/${todo.acid.clean_id}`} variant="contained">
            What to do
          </Button>
        </Line>
      );
    case "descale":
      return (
        <Line
          mark="◆"
          what={`Descale ${todo.card.nickname}${todo.card.circuits.length > 1 ? `, ${todo.circuit.name}` : ""}`}
          why={`${todo.card.urgency === "overdue" ? "Overdue" : "Due"}: ${todo.circuit.forecast.due.text}`}
        >
          <Button component={Link} to={`/brewers/${todo.card.id}/plan`} variant="contained">
            Plan
          </Button>
        </Line>
      );
    case "look":
      return (
        <Line
          mark="◇"
          what={`${todo.card.nickname}${todo.card.circuits.length > 1 ? `, ${todo.circuit.name}` : ""}: ${todo.look.text}`}
          why={todo.look.why}
        >
          <LookActs todo={todo} today={today} />
        </Line>
      );
    case "part":
      return (
        <Line mark="◆" what={`Descale ${todo.card.nickname}, ${todo.part.text}`} why="One bath, rinsed and drinkable.">
          <Button
            component={Link}
            to={`/brewers/${todo.card.id}/plan?side=${todo.circuit.circuit_id}`}
            variant="contained"
          >
            Plan
          </Button>
        </Line>
      );
    case "coffee":
      return (
        <Line
          mark="◇"
          what={`${todo.card.nickname}: ${todo.coffee.text}`}
          why="It tells whether to rinse more next time."
        >
          <FirstCoffee brewer={todo.card.id} coffee={todo.coffee} today={today} />
        </Line>
      );
    case "works":
      return <Works todo={todo} today={today} />;
    case "job":
      return (
        <Line mark="○" what={`${todo.job.name}: ${todo.card.nickname}`} why={todo.job.text}>
          <WorkActs brewer={todo.card.id} work={todo.job} today={today} />
        </Line>
      );
  }
}

/** What was seen, told where it is asked. */
function LookActs({ todo, today }: { todo: Extract<Todo, { kind: "look" }>; today: string }) {
  const { card, circuit, look } = todo;
  const entries = useEntries(card.id);
  const [seconds, setSeconds] = useState("");
  const circuit_id = circuit.circuit_id;
  if (look.at === "signs")
    return (
      <>
        <Button
          variant="outlined"
          disabled={entries.pending}
          onClick={() => entries.add(today, { kind: "nothing_noticed", circuit_id }, "Nothing noticed: written down")}
        >
          Nothing of it
        </Button>
        <Noticed
          id={card.id}
          circuit={circuit_id}
          today={today}
          needles={card.upkeep.some(({ job }) => job === "needles")}
          side={card.circuits.length > 1 ? circuit.name : null}
        />
        <ErrorNotice error={entries.error} />
      </>
    );
  return (
    <>
      <TextField
        size="small"
        label="Seconds"
        value={seconds}
        onChange={(e) => setSeconds(e.target.value)}
        sx={{ width: 110 }}
        slotProps={{ htmlInput: { inputMode: "decimal" } }}
      />
      <Button
        variant="outlined"
        disabled={entries.pending}
        aria-label={`Write down the seconds: ${card.nickname}`}
        onClick={() =>
          entries.add(
            today,
            { kind: "timed", circuit_id, seconds: typed(seconds), cup_ml: null },
            `${card.nickname}: a cup was timed`,
          )
        }
      >
        Write it down
      </Button>
      <ErrorNotice error={entries.error} />
    </>
  );
}

/** The small works of a home that can wait: one line, opened where they are done. */
function Works({ todo, today }: { todo: Extract<Todo, { kind: "works" }>; today: string }) {
  const [open, setOpen] = useState(false);
  // One by itself needs no line above it.
  const alone = todo.works.length === 1;
  const names = [...new Set(todo.works.map(({ job }) => job.name.toLowerCase()))].join(", ");
  return (
    <>
      {!alone && (
        <Line mark="○" what={`${todo.home}: ${todo.works.length} small works`} why={names}>
          <Button aria-expanded={open} variant="outlined" onClick={() => setOpen(!open)}>
            {open ? "Fold" : "Show them"}
          </Button>
        </Line>
      )}
      {(alone || open) &&
        todo.works.map(({ card, job }) => (
          <Line
            key={`${card.id} ${job.job}`}
            mark={alone ? "○" : "–"}
            what={`${job.name}: ${card.nickname}`}
            why={job.text}
          >
            <WorkActs brewer={card.id} work={job} today={today} />
          </Line>
        ))}
    </>
  );
}

function Line({ mark, what, why, children }: { mark: string; what: string; why: string; children: ReactNode }) {
  return (
    <Stack
      component="li"
      direction="row"
      sx={{ alignItems: "center", gap: 1, py: 0.75, borderTop: 1, borderColor: "divider", flexWrap: "wrap" }}
    >
      <Box aria-hidden sx={{ width: 20, flexShrink: 0, textAlign: "center" }}>
        {mark}
      </Box>
      <Box sx={{ flex: "1 1 220px", minWidth: 0, overflowWrap: "anywhere" }}>
        <strong>{what}</strong>
        <Typography variant="body2" color="textSecondary">
          {why}
        </Typography>
      </Box>
      <Stack direction="row" sx={{ gap: 1, alignItems: "center", ml: "auto" }}>
        {children}
      </Stack>
    </Stack>
  );
}

/** What is left of a timer. */
function Left({ ends, ahead }: { ends: string; ahead: number }) {
  const left = Math.ceil((Date.parse(ends) - ahead - useNow()) / 1000);
  return (
    <Typography role="timer" sx={{ fontWeight: 700, fontSize: "1.3rem" }}>
      {left > 0 ? clockText(left) : "Over"}
    </Typography>
  );
}
