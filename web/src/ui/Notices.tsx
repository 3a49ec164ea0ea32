import { Alert, CircularProgress, Stack, Typography } from "@mui/material";
import { type ReactNode, useEffect } from "react";
import { setTitle } from "./title";

export function Loading() {
  return (
    <Stack sx={{ alignItems: "center", py: 8 }} role="status">
      <CircularProgress aria-label="Loading" />
    </Stack>
  );
}

export function ErrorNotice({ error }: { error: Error | null }) {
  if (!error) return null;
  return (
    <Alert severity="error" variant="outlined" sx={{ my: 1 }}>
      {error.message}. Nothing was lost.
    </Alert>
  );
}

/** Loading, error and ready in one place; empty is the caller's to word. */
export function Ready<T>({
  query,
  children,
}: {
  query: { data: T | undefined; error: Error | null };
  children: (data: T) => ReactNode;
}) {
  if (query.data !== undefined) return children(query.data);
  return query.error ? <ErrorNotice error={query.error} /> : <Loading />;
}

export function Page({ title, aside, children }: { title: string; aside?: ReactNode; children: ReactNode }) {
  useEffect(() => {
    setTitle("page", title);
    return () => setTitle("page", "");
  }, [title]);
  return (
    <Stack spacing={2}>
      <Stack direction="row" sx={{ justifyContent: "space-between", alignItems: "center", gap: 2, flexWrap: "wrap" }}>
        <Typography variant="h1" sx={{ overflowWrap: "anywhere" }}>
          {title}
        </Typography>
        {aside}
      </Stack>
      {children}
    </Stack>
  );
}
