import { Box, Button, Paper, Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import { type Schemas, send, useChange } from "../api/client";
import { AsItWas } from "../pictures/AsItWas";
import { Bore } from "../pictures/Bore";
import { GlassPicture } from "../pictures/GlassRow";
import { useUndo } from "../ui/Undo";

/** What was done, line by line, each with its glasses and what it took. */
export function LogTable({ lines, named = false }: { lines: Schemas["LogLine"][]; named?: boolean }) {
  if (lines.length === 0) return <Typography>Nothing yet. The first clean will stand here.</Typography>;
  return (
    <Paper component="ul" sx={{ listStyle: "none", m: 0, p: 0, "& li:last-of-type": { borderBottom: 0 } }}>
      {lines.map((line) => (
        <Line key={line.clean_id ?? line.past_id} line={line} named={named} />
      ))}
    </Paper>
  );
}

function Line({ line, named }: { line: Schemas["LogLine"]; named: boolean }) {
  const glasses = line.outcome?.glasses ?? [];
  return (
    <Box
      component="li"
      sx={{
        display: "grid",
        alignItems: "center",
        columnGap: 2,
        p: 1.5,
        borderBottom: 1,
        borderColor: "divider",
        gridTemplateColumns: { xs: "1fr auto", md: "110px minmax(0, 1fr) auto 88px" },
        gridTemplateAreas: {
          xs: '"day act" "text text" "drawn drawn"',
          md: '"day text drawn act"',
        },
      }}
    >
      <Typography sx={{ gridArea: "day", fontWeight: 700 }}>{line.day_text}</Typography>
      <Box sx={{ gridArea: "text", overflowWrap: "anywhere" }}>
        {named && (
          <Typography sx={{ fontWeight: 700 }}>
            <Link to={`/brewers/${line.brewer_id}`} style={{ color: "inherit" }}>
              {line.nickname}
            </Link>
          </Typography>
        )}
        <Typography>
          {line.text}
          {line.outcome?.because && `. It began with: ${line.outcome.because.text}`}
        </Typography>
        {line.in_short && (
          <Typography variant="body2" color="textSecondary">
            {line.in_short}
          </Typography>
        )}
        {line.outcome && <AsItWas outcome={line.outcome} />}
      </Box>
      {(glasses.length > 0 || line.outcome?.chalk) && (
        <Stack direction="row" sx={{ gridArea: "drawn", alignItems: "center", flexWrap: "wrap", gap: 1.5 }}>
          {glasses.length > 0 && <Strip glasses={glasses} />}
          {line.outcome?.chalk && <Chalk chalk={line.outcome.chalk} />}
        </Stack>
      )}
      <Act line={line} />
    </Box>
  );
}

/** The glasses side by side, from the reference to the last. */
function Strip({ glasses }: { glasses: Schemas["Glass"][] }) {
  const words = glasses.map((glass) => `${glass.label}: ${glass.text}`).join("; ");
  return (
    <Box role="img" aria-label={words} title={words} sx={{ display: "flex", gap: 0.5 }}>
      {glasses.map((glass) => (
        <GlassPicture key={`${glass.of}${glass.round}`} rating={glass.rating} size={36} />
      ))}
    </Box>
  );
}

/** What its baths met, and what they likely left. */
function Chalk({ chalk }: { chalk: Schemas["ChalkMet"] }) {
  return (
    <Stack direction="row" sx={{ alignItems: "center", gap: 0.5 }}>
      <Measured chalk={chalk.before} />
      {chalk.after && (
        <>
          <span aria-hidden>→</span>
          <Measured chalk={chalk.after} />
        </>
      )}
    </Stack>
  );
}

/** A bore small enough for a line, its figure large enough to read. */
function Measured({ chalk }: { chalk: Schemas["Chalk"] }) {
  return (
    <Stack sx={{ alignItems: "center", width: 72 }}>
      <Bore chalk={chalk} size={48} plain />
      <Typography variant="body2" aria-hidden sx={{ textAlign: "center", lineHeight: 1.15 }}>
        {chalk.of_limit}
      </Typography>
    </Stack>
  );
}

function Act({ line }: { line: Schemas["LogLine"] }) {
  const offerUndo = useUndo();
  const restore = useChange(send.restorePast);
  const remove = useChange(send.deletePast);
  const past = line.past_id;
  if (line.clean_id)
    return (
      <Button component={Link} to={`/cleans/${line.clean_id}`} size="small" sx={{ gridArea: "act" }}>
        Open
      </Button>
    );
  if (!past) return null;
  return (
    <Button
      size="small"
      color="inherit"
      sx={{ gridArea: "act" }}
      onClick={() =>
        remove.mutate(past, {
          onSuccess: () => offerUndo({ text: "Line taken out of the log", undo: () => restore.mutate(past) }),
        })
      }
    >
      Take out
    </Button>
  );
}
