import { Button, Paper, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { type Schemas, send, useChange } from "../api/client";
import { queries } from "../api/queries";
import { Page, Ready } from "../ui/Notices";
import { useUndo } from "../ui/Undo";

export function LogPage() {
  return (
    <Page title="Log">
      <Ready query={useQuery(queries.log())}>{(lines) => <LogTable lines={lines} named />}</Ready>
    </Page>
  );
}

export function LogTable({ lines, named = false }: { lines: Schemas["LogLine"][]; named?: boolean }) {
  const offerUndo = useUndo();
  const restore = useChange(send.restorePast);
  const remove = useChange(send.deletePast);
  if (lines.length === 0) return <Typography>Nothing yet. The first clean will stand here.</Typography>;
  return (
    <Paper component="ul" sx={{ listStyle: "none", m: 0, p: 0 }}>
      {lines.map((line) => (
        <Stack
          key={line.clean_id ?? line.past_id}
          component="li"
          direction={{ xs: "column", sm: "row" }}
          sx={{
            gap: { xs: 0.5, sm: 2 },
            p: 1.5,
            borderBottom: 1,
            borderColor: "divider",
            alignItems: { sm: "center" },
          }}
        >
          <Typography sx={{ width: { sm: 110 }, flexShrink: 0, fontWeight: 700 }}>{line.day_text}</Typography>
          {named && (
            <Typography sx={{ width: { sm: 220 }, flexShrink: 0, overflowWrap: "anywhere" }}>
              <Link to={`/brewers/${line.brewer_id}`} style={{ color: "inherit" }}>
                {line.nickname}
              </Link>
            </Typography>
          )}
          <Typography sx={{ flexGrow: 1, overflowWrap: "anywhere" }}>
            {line.text}
            {line.outcome?.because && `. It began with: ${line.outcome.because.text}`}
          </Typography>
          {line.clean_id && (
            <Button component={Link} to={`/cleans/${line.clean_id}`} size="small">
              Open
            </Button>
          )}
          {line.past_id && (
            <Button
              size="small"
              color="inherit"
              onClick={() => {
                const past = line.past_id ?? "";
                remove.mutate(past, {
                  onSuccess: () => offerUndo({ text: "Line taken out of the log", undo: () => restore.mutate(past) }),
                });
              }}
            >
              Take out
            </Button>
          )}
        </Stack>
      ))}
    </Paper>
  );
}
