import { Box, Button, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { type Schemas, send, useChange } from "../api/client";
import { queries } from "../api/queries";
import { ErrorNotice } from "../ui/Notices";

/** After a clean the brewer is as well as it gets: the last timed cup can become what later ones are held against. */
export function KeepHealthy({ clean }: { clean: Schemas["CleanView"] }) {
  const { plan, state } = clean;
  const brewer = useQuery(queries.brewer(plan.brewer_id)).data;
  const keep = useChange((draft: Schemas["BrewerDraft"]) => send.changeBrewer(plan.brewer_id, draft));
  const cup = state.flow.at(-1);
  const side = brewer?.card.circuits.findIndex((c) => c.circuit_id === plan.circuit_id) ?? -1;
  if (!brewer || side < 0 || cup?.seconds == null || cup.streams == null || state.flow_is_poor) return null;
  const { draft } = brewer;
  const operation = side === 0 ? draft.operation : draft.other_side?.operation;
  const known = operation?.healthy;
  if (!operation || (known?.seconds === cup.seconds && known.streams === cup.streams)) return null;
  const healthy = { ...operation, healthy: { seconds: cup.seconds, streams: cup.streams } };
  return (
    <Box sx={{ mt: 2 }}>
      <Typography gutterBottom>
        It flows as well now as it ever will: keep {cup.text} as the figure that later cups are held against?
      </Typography>
      <Button
        variant="outlined"
        sx={{ minHeight: 56 }}
        disabled={keep.isPending}
        onClick={() =>
          keep.mutate(
            side === 0 || !draft.other_side
              ? { ...draft, operation: healthy }
              : { ...draft, other_side: { ...draft.other_side, operation: healthy } },
          )
        }
      >
        Keep it as its healthy figure
      </Button>
      <ErrorNotice error={keep.error} />
    </Box>
  );
}
