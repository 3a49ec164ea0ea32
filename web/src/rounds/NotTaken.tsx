import { Alert, Button } from "@mui/material";
import type { VisitActs } from "./useVisitActs";

/** Acts of a visit that were refused, until somebody has read why. */
export function NotTaken({ acts }: { acts: VisitActs }) {
  return acts.aside.map(({ event, reason }) => (
    <Alert
      key={event.id}
      severity="warning"
      variant="outlined"
      action={<Button onClick={() => acts.letGo(event.id)}>I have read it</Button>}
    >
      {`Not taken: ${reason}`}
    </Alert>
  ));
}
