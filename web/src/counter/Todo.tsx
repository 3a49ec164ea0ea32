import { Box, Button, Stack, Typography } from "@mui/material";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { useEntries } from "../brewer/Journal";
import { clockText } from "../clean/clockText";
import { ErrorNotice } from "../ui/Notices";
import { useNow } from "../ui/useNow";
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
    case "job":
      return <Job todo={todo} today={today} />;
  }
}

function Job({ todo, today }: { todo: Extract<Todo, { kind: "job" }>; today: string }) {
  const entries = useEntries(todo.card.id);
  const { job } = todo.job;
  const filter = job === "filter";
  return (
    <Line mark="○" what={`${filter ? "Water filter" : "Needles"}: ${todo.card.nickname}`} why={todo.job.text}>
      {!filter && (
        <Button component={Link} to={`/brewers/${todo.card.id}/plan?work=needles`}>
          Show me
        </Button>
      )}
      <Button
        variant="outlined"
        disabled={entries.pending}
        onClick={() =>
          entries.add(
            today,
            { kind: filter ? "filter_fitted" : "needles_cleared" },
            filter ? "New filter today" : "Needles cleared today",
          )
        }
      >
        {filter ? "Fitted today" : "Cleared today"}
      </Button>
      <ErrorNotice error={entries.error} />
    </Line>
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
