import { Alert, Button } from "@mui/material";
import { type Query, useQueryClient } from "@tanstack/react-query";
import { useCallback, useSyncExternalStore } from "react";
import { Refused } from "../api/client";

/** Asked for by what is on screen, and never answered; a refusal is an answer, and said where it was asked. */
function isUnanswered(query: Query) {
  const { error, data } = query.state;
  const isRefused = error instanceof Refused && error.status < 500;
  return query.isActive() && data === undefined && error !== null && !isRefused && !query.meta?.helps;
}

/** Says so when a part of the page could not be asked for, with a way to ask again. */
export function Unanswered() {
  const client = useQueryClient();
  const cache = client.getQueryCache();
  const listen = useCallback((changed: () => void) => cache.subscribe(changed), [cache]);
  const some = useSyncExternalStore(listen, () => cache.getAll().some(isUnanswered));
  if (!some) return null;
  const again = () => client.refetchQueries({ predicate: isUnanswered });
  return (
    <Alert severity="warning" variant="outlined" sx={{ mb: 2 }} action={<Button onClick={again}>Ask again</Button>}>
      Part of this page could not be asked for. Nothing was lost.
    </Alert>
  );
}
