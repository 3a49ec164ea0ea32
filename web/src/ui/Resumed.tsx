import { Alert, Button } from "@mui/material";

/** That a sheet was left half-typed, and a way to begin it anew. */
export function Resumed({ sheet }: { sheet: { isResumed: boolean; startOver: () => void } }) {
  if (!sheet.isResumed) return null;
  return (
    <Alert severity="info" variant="outlined" action={<Button onClick={sheet.startOver}>Start over</Button>}>
      What you had begun here is still there.
    </Alert>
  );
}
