import { Alert, Box, Button, Paper, Stack, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { Link } from "react-router";
import { type Schemas, send, useChange } from "../api/client";
import type { Options } from "../plan/options";
import { ErrorNotice } from "../ui/Notices";

const advised = "advised";

/** Whose way a plan is made in: the household's own with what is to be said of it, or as it is advised. */
export function OwnWay({
  brewer,
  plan,
  ways,
  choose,
}: {
  brewer: string;
  plan: Schemas["Plan"];
  ways: Schemas["WayShown"][];
  choose: (way: Options["way"]) => void;
}) {
  const check = plan.way;
  const change = useChange((habits: Schemas["Habits"]) =>
    send.changeWay(check?.id ?? "", { from: { kind: "habits", habits } }),
  );
  const own = ways.filter((way) => way.circuit_id === plan.circuit_id);
  if (own.length === 0 && !check) return null;
  const followed = check && !check.refused ? check.id : advised;
  return (
    <Paper component="section" aria-label="Whose way" sx={{ p: 2 }}>
      <Stack direction="row" sx={{ columnGap: 2, rowGap: 1, flexWrap: "wrap", alignItems: "center" }}>
        <ToggleButtonGroup
          exclusive
          aria-label="Whose way"
          value={followed}
          sx={{ flexWrap: "wrap" }}
          onChange={(_, id: string | null) => id && choose(id === advised ? { kind: "advised" } : { kind: "kept", id })}
        >
          {own.map((way) => (
            <ToggleButton key={way.id} value={way.id} sx={{ minHeight: 48, color: "text.primary" }}>
              {way.name}
            </ToggleButton>
          ))}
          <ToggleButton value={advised} sx={{ minHeight: 48, color: "text.primary" }}>
            As Murlo advises
          </ToggleButton>
        </ToggleButtonGroup>
        {check && (
          <Typography color="textSecondary">
            {check.since}. <Link to={`/brewers/${brewer}/ways`}>See it</Link>
          </Typography>
        )}
      </Stack>
      {check?.refused && (
        <Alert severity="warning" variant="outlined" sx={{ mt: 1.5 }}>
          {check.refused} What is advised stands here instead.
        </Alert>
      )}
      {check?.text && (
        <Typography sx={{ mt: 1.5 }}>
          {check.text}
          {check.costs.map((cost) => ` ${cost}.`)}
        </Typography>
      )}
      {check?.suggestion && (
        <Box sx={{ mt: 1.5, pl: 1.5, borderLeft: 4, borderColor: "primary.main" }}>
          <Typography sx={{ mb: 1 }}>
            <strong>Worth a thought: </strong>
            {check.suggestion.text}
          </Typography>
          <Button
            variant="outlined"
            disabled={change.isPending}
            sx={{ minHeight: 48 }}
            onClick={() => check.suggestion && change.mutate(check.suggestion.habits)}
          >
            Change “{check.name}” so
          </Button>
        </Box>
      )}
      <ErrorNotice error={change.error} />
    </Paper>
  );
}
