import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Paper,
  Stack,
  Typography,
  useMediaQuery,
  useTheme,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Schemas, send, useChange } from "../api/client";
import { queries } from "../api/queries";
import { ErrorNotice, Ready } from "../ui/Notices";
import { dayText } from "../ui/useClock";
import { DaysOff, told } from "./DaysOff";
import { type BlockActs, useBlocks } from "./useBlocks";
import { WeekBlock } from "./WeekBlock";

type Block = Schemas["Block"];
type Week = Schemas["WeekView"];

const weekday = (day: string, how: "short" | "long") =>
  new Intl.DateTimeFormat("en", { weekday: how, timeZone: "UTC" }).format(new Date(day));

/** What a block is among the others: its visit, or the draft of its home and day. */
const keyOf = (block: Block) => block.id ?? `${block.home_id} ${block.rhythm_day}`;

/** The week as it plans itself: days across, homes down; what is carried and bought for all of it beside. */
export function ThisWeek() {
  const [day, setDay] = useState("");
  const week = useQuery(queries.week(day));
  return (
    <Paper component="section" aria-label="This week" sx={{ p: 2 }}>
      <Ready query={week}>{(view) => <Shown week={view} isNow={day === ""} go={setDay} />}</Ready>
    </Paper>
  );
}

function Shown({ week, isNow, go }: { week: Week; isNow: boolean; go: (day: string) => void }) {
  const acts = useBlocks();
  const theme = useTheme();
  const isWide = useMediaQuery(theme.breakpoints.up("lg"));
  const first = week.days[0]?.day ?? "";
  const last = week.days.at(-1)?.day ?? "";
  const blocks = week.rows.flatMap((row) => row.blocks);
  const drafts = blocks.filter(
    (block) => block.stage === "draft" && block.minds.length === 0 && block.works.length > 0,
  );
  return (
    <Stack spacing={1.5}>
      <Stack direction="row" sx={{ alignItems: "center", gap: 1, flexWrap: "wrap" }}>
        <Typography variant="h2">{isNow ? "This week" : "The week"}</Typography>
        <Typography color="textSecondary" sx={{ flexGrow: 1 }}>
          {dayText(first)} to {dayText(last)}. {week.text}
        </Typography>
        <Button onClick={() => go(week.before)}>The week before</Button>
        {!isNow && <Button onClick={() => go("")}>This week</Button>}
        <Button onClick={() => go(week.after)}>The week after</Button>
        <OwnDaysOff />
      </Stack>
      <ErrorNotice error={acts.error} />
      {blocks.length === 0 && (
        <Typography>
          {week.has_rhythm
            ? "Nobody expects you this week."
            : "Tell when you come to a home, and its visits plan themselves: touch its name under the weeks ahead."}
        </Typography>
      )}
      {blocks.length > 0 && (isWide ? <Grid week={week} acts={acts} /> : <Days week={week} acts={acts} />)}
      {drafts.length > 1 && (
        <Button
          variant="contained"
          sx={{ alignSelf: "flex-start" }}
          disabled={acts.isPending}
          onClick={() => acts.confirmAll(drafts)}
        >
          Confirm all {drafts.length}
        </Button>
      )}
      <Carried week={week} />
    </Stack>
  );
}

/** Days across, homes down. */
function Grid({ week, acts }: { week: Week; acts: BlockActs }) {
  const [over, setOver] = useState("");
  const isFull = (day: string) => week.rows.some((row) => row.blocks.some((block) => block.day === day));
  // A day on which one goes nowhere needs little room.
  const columns = week.days.map((one) => (isFull(one.day) ? "minmax(0, 2fr)" : "minmax(0, 1fr)"));
  const [dragged, setDragged] = useState<Block | null>(null);
  const drop = (day: string) => {
    setOver("");
    if (dragged && dragged.day !== day) acts.move(dragged, day);
    setDragged(null);
  };
  return (
    <Box
      role="table"
      aria-label="Visits by home and day"
      sx={{
        display: "grid",
        gridTemplateColumns: `minmax(90px, 120px) ${columns.join(" ")}`,
        borderTop: 1,
        borderColor: "divider",
      }}
    >
      <Box role="row" sx={{ display: "contents" }}>
        <Box role="columnheader" sx={{ p: 0.75 }}>
          <Typography variant="body2" color="textSecondary">
            Home
          </Typography>
        </Box>
        {week.days.map((one) => (
          <Box
            role="columnheader"
            key={one.day}
            sx={{ p: 0.75, borderLeft: 1, borderColor: "divider", bgcolor: one.is_off ? "action.hover" : undefined }}
          >
            <Typography sx={{ fontWeight: 700, textDecoration: one.is_today ? "underline" : "none" }}>
              {weekday(one.day, "short")} {dayText(one.day)}
            </Typography>
            {(one.is_today || one.is_off) && (
              <Typography variant="body2" color="textSecondary">
                {one.is_off ? "off" : "today"}
              </Typography>
            )}
          </Box>
        ))}
      </Box>
      {week.rows.map((row) => (
        <Box role="row" key={row.home_id} sx={{ display: "contents" }}>
          <Box role="rowheader" sx={{ p: 0.75, borderTop: 1, borderColor: "divider" }}>
            <Typography sx={{ fontWeight: 700, overflowWrap: "anywhere" }}>{row.name}</Typography>
          </Box>
          {week.days.map((one) => (
            <Box
              role="cell"
              key={one.day}
              onDragOver={(event) => {
                if (!dragged || one.is_over) return;
                event.preventDefault();
                setOver(one.day);
              }}
              onDrop={() => !one.is_over && drop(one.day)}
              sx={{
                p: 0.5,
                borderTop: 1,
                borderLeft: 1,
                borderColor: "divider",
                minHeight: 72,
                bgcolor: over === one.day && dragged ? "action.selected" : one.is_off ? "action.hover" : undefined,
              }}
            >
              {row.blocks
                .filter((block) => block.day === one.day)
                .map((block) => (
                  <WeekBlock
                    key={keyOf(block)}
                    block={block}
                    days={week.days}
                    acts={acts}
                    isNamed={block.homes !== row.name}
                    drag={(is) => setDragged(is ? block : null)}
                  />
                ))}
            </Box>
          ))}
        </Box>
      ))}
    </Box>
  );
}

/** The same day by day, for a phone. */
function Days({ week, acts }: { week: Week; acts: BlockActs }) {
  const blocks = week.rows.flatMap((row) => row.blocks);
  const shown = week.days.filter((one) => one.is_off || blocks.some((block) => block.day === one.day));
  return (
    <Stack spacing={1.5}>
      {shown.map((one) => (
        <Box component="section" key={one.day} aria-label={weekday(one.day, "long")}>
          <Typography variant="h3">
            {weekday(one.day, "long")}, {dayText(one.day)}
            {one.is_today && ", today"}
            {one.is_off && ", off"}
          </Typography>
          {blocks
            .filter((block) => block.day === one.day)
            .map((block) => (
              <WeekBlock key={keyOf(block)} block={block} days={week.days} acts={acts} isNamed />
            ))}
        </Box>
      ))}
    </Stack>
  );
}

/** So many things of the bag stand there at once: what runs out comes first. */
const folded = 6;

/** The bag and the shopping for all visits of the week. */
function Carried({ week }: { week: Week }) {
  const [all, setAll] = useState(false);
  if (week.kit.length + week.shopping.length === 0) return null;
  return (
    <Box
      sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "repeat(2, minmax(0, 1fr))" } }}
    >
      <Box component="section" aria-label="To buy before">
        <Typography variant="h3">To buy before</Typography>
        {week.shopping.length === 0 && (
          <Typography color="textSecondary">Nothing that is counted runs short.</Typography>
        )}
        <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
          {week.shopping.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </Box>
      </Box>
      <Box component="section" aria-label="The bag">
        <Typography variant="h3">The bag for all of it</Typography>
        <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
          {week.kit.slice(0, all ? undefined : folded).map((line) => (
            <li key={line.what}>
              {line.what}
              {line.there != null && (
                <Typography component="span" color={line.is_short ? "error" : "textSecondary"}>
                  {" "}
                  ({line.there})
                </Typography>
              )}
            </li>
          ))}
        </Box>
        {week.kit.length > folded && (
          <Button onClick={() => setAll(!all)} aria-expanded={all}>
            {all ? "Fold the bag" : `Show all ${week.kit.length} things`}
          </Button>
        )}
      </Box>
    </Box>
  );
}

/** Days on which one goes to no home. */
function OwnDaysOff() {
  const settings = useQuery(queries.household()).data?.settings;
  const [typed, setTyped] = useState<Schemas["DaysOff"][] | null>(null);
  const save = useChange(send.settings);
  if (!settings) return null;
  const close = () => setTyped(null);
  return (
    <>
      <Button variant="outlined" onClick={() => setTyped(settings.days_off ?? [])}>
        Your days off
      </Button>
      <Dialog open={typed !== null} onClose={close} fullWidth maxWidth="sm">
        <DialogTitle>Your days off</DialogTitle>
        <DialogContent>
          <Typography sx={{ mb: 2 }}>On these days you go to no home; what falls on them is named.</Typography>
          <DaysOff off={typed ?? []} set={setTyped} />
          <ErrorNotice error={save.error} />
        </DialogContent>
        <DialogActions>
          <Button onClick={close}>Not now</Button>
          <Button
            variant="contained"
            disabled={save.isPending}
            onClick={() => save.mutate({ ...settings, days_off: told(typed ?? []) }, { onSuccess: close })}
          >
            Save
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
