import { Button, Paper, Stack, Typography } from "@mui/material";
import type { ReactNode } from "react";
import type { Schemas } from "../api/client";
import { ErrorNotice } from "../ui/Notices";
import { useEntries } from "./Journal";

/** What this brewer has taught: what is taken for true now, and where each is from, to be left out or counted again. */
export function LearnedView({ id, brewer }: { id: string; brewer: Schemas["BrewerView"] }) {
  const entries = useEntries(id);
  return (
    <>
      {brewer.learned.map((one) => (
        <Paper key={one.what} component="section" aria-label={one.what} sx={{ p: 2 }}>
          <Typography variant="h2" gutterBottom>
            {one.what}
          </Typography>
          <Typography>{one.text}</Typography>
          <Stack component="ul" sx={{ listStyle: "none", p: 0, m: 0, mt: one.evidence.length > 0 ? 1 : 0 }}>
            {one.evidence.map((from) => (
              <LessonRow
                key={from.entry_id ?? from.text}
                entries={entries}
                today={brewer.today}
                entryId={from.entry_id ?? null}
                leftOutBy={from.left_out_by}
                what="That is left out"
              >
                {from.text}
              </LessonRow>
            ))}
          </Stack>
        </Paper>
      ))}
      <ErrorNotice error={entries.error} />
    </>
  );
}

const button = { flexShrink: 0, minHeight: 44, whiteSpace: "nowrap" } as const;

/** A lesson that can be left out and counted again. */
function LessonRow({
  entries,
  today,
  entryId,
  leftOutBy,
  what,
  children,
}: {
  entries: ReturnType<typeof useEntries>;
  today: string;
  entryId: string | null;
  leftOutBy: string | null | undefined;
  what: string;
  children: ReactNode;
}) {
  return (
    <Stack
      component="li"
      direction="row"
      sx={{
        alignItems: "center",
        justifyContent: "space-between",
        gap: 1,
        py: 0.5,
        borderTop: 1,
        borderColor: "divider",
      }}
    >
      <Typography variant="body2">{children}</Typography>
      {leftOutBy ? (
        <Button sx={button} onClick={() => entries.takeBack(leftOutBy)}>
          Count it again
        </Button>
      ) : entryId === null ? null : (
        <Button
          sx={button}
          color="inherit"
          onClick={() => entries.add(today, { kind: "left_out", entry_id: entryId }, what)}
        >
          Leave out
        </Button>
      )}
    </Stack>
  );
}
