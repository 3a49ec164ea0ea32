import { Box, List, ListItem, MenuItem, Paper, Stack, TextField, Typography } from "@mui/material";
import type { UseQueryResult } from "@tanstack/react-query";
import { Refused, type Schemas } from "../api/client";
import { Bore } from "../pictures/Bore";
import { Pour } from "../pictures/Pour";
import { ErrorNotice, Loading } from "../ui/Notices";
import type { Answers } from "./useAnswers";

/** What the answers come to so far, and at the end what can be done with it. */
export function Result({
  look,
  answers,
  homes,
  tell,
  last,
}: {
  look: UseQueryResult<Schemas["FirstView"]>;
  answers: Answers;
  homes: Schemas["Home"][];
  tell: (change: Partial<Answers>) => void;
  last: boolean;
}) {
  const view = look.data;
  const wrong = look.error instanceof Refused ? look.error.fields.nickname : undefined;
  return (
    <Paper
      component="section"
      aria-label="So far"
      sx={{ p: 2, flex: { lg: "0 0 400px" }, width: { xs: "100%", lg: "auto" }, boxSizing: "border-box" }}
    >
      {!view && !look.error && <Loading />}
      {wrong === undefined && <ErrorNotice error={look.error} />}
      {view && <Answer view={view} last={last} />}
      {last && (
        <Stack spacing={1.5} sx={{ mt: 2 }}>
          <TextField
            label="Its name"
            value={answers.nickname ?? view?.card.nickname ?? ""}
            onChange={(e) => tell({ nickname: e.target.value })}
            error={wrong !== undefined}
            helperText={wrong ?? (answers.nickname === "" ? "Empty: it is called as its kind is" : "")}
          />
          {homes.length > 1 && (
            <TextField
              select
              label="Its home"
              value={answers.home_id ?? homes[0]?.id}
              onChange={(e) => tell({ home_id: e.target.value })}
            >
              {homes.map((home) => (
                <MenuItem key={home.id} value={home.id}>
                  {home.name}
                </MenuItem>
              ))}
            </TextField>
          )}
          <Typography variant="body2" color="textSecondary">
            Sizes and times are the usual ones of its kind. The clean asks where it matters, and each can be corrected.
          </Typography>
        </Stack>
      )}
    </Paper>
  );
}

function Answer({ view, last }: { view: Schemas["FirstView"]; last: boolean }) {
  const { card, plan, buy } = view;
  const first = card.circuits.find((c) => c.circuit_id === card.first_due);
  const late = card.urgency === "overdue" || card.urgency === "due";
  return (
    <Stack spacing={1}>
      <Stack direction="row" spacing={2} sx={{ alignItems: "center" }}>
        {card.circuits.map((circuit) => (
          <Bore key={circuit.circuit_id} chalk={circuit.forecast.chalk} size={card.circuits.length > 1 ? 72 : 96} />
        ))}
        <Box sx={{ minWidth: 0 }}>
          <Typography variant="h3" component="p">
            {late ? "Descale it now" : `Descale ${first?.forecast.due.text}`}
          </Typography>
          <Typography variant="body2">{first?.forecast.reason}.</Typography>
        </Box>
      </Stack>
      <Typography>
        <strong>{plan.ribbon.text}</strong>
      </Typography>
      {last && (
        <>
          <Stack direction="row" spacing={1} sx={{ alignItems: "center" }}>
            <Pour bath={plan.bath} />
            {plan.after && (
              <Stack sx={{ alignItems: "center" }}>
                <Typography>After it</Typography>
                <Bore chalk={plan.after} size={72} />
              </Stack>
            )}
          </Stack>
          {plan.warnings.map((warning) => (
            <Typography key={warning}>
              <strong>Careful: </strong>
              {warning}
            </Typography>
          ))}
          {buy.length > 0 && (
            <>
              <Typography sx={{ fontWeight: 700 }}>To buy for this clean, one of:</Typography>
              <List dense disablePadding>
                {buy.map((thing) => (
                  <ListItem key={thing.agent_id} disableGutters>
                    {thing.name}, {thing.amount}: {thing.sold_at}
                  </ListItem>
                ))}
              </List>
            </>
          )}
        </>
      )}
    </Stack>
  );
}
