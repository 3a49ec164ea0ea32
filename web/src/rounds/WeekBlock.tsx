import { Box, Button, Menu, MenuItem, Stack, Typography } from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { dayText } from "../ui/useClock";
import type { BlockActs } from "./useBlocks";

type Block = Schemas["Block"];

const acts = { draft: "Look", planned: "Open", running: "Carry on", closed: "Look" } as const;
const states = { draft: "not confirmed", planned: "planned", running: "under way", closed: "over" } as const;

/** Where a visit is opened; a draft opens as a visit that is planned from it. */
export function placeOf(block: Block): string {
  if (block.id != null) return `/visits/${block.id}`;
  const asked = new URLSearchParams({ home: block.home_id, day: block.day, rhythm: block.rhythm_day ?? block.day });
  return `/visits/new?${asked}`;
}

/** One visit of a week: hours, works, its length with the likely further bath hatched. */
export function WeekBlock({
  block,
  days,
  acts: { confirm, move, isPending },
  drag,
  isNamed = false,
}: {
  block: Block;
  days: Schemas["WeekDay"][];
  acts: BlockActs;
  /** It begins, or ends, to be drawn to another day. */
  drag?: (is: boolean) => void;
  isNamed?: boolean;
}) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  const mayMove = block.stage === "draft" || block.stage === "planned";
  const isDraft = block.stage === "draft";
  const name = `${block.homes}, ${dayText(block.day)}, ${block.hours}`;
  const here = days.findIndex((one) => one.day === block.day);
  const step = (by: number) => {
    const to = days[here + by];
    if (mayMove && to && !to.is_over) move(block, to.day);
  };
  return (
    <Box
      role="group"
      aria-label={`${name}, ${states[block.stage]}`}
      draggable={mayMove && drag !== undefined}
      onDragStart={() => drag?.(true)}
      onDragEnd={() => drag?.(false)}
      sx={{
        border: 1,
        borderStyle: isDraft ? "dashed" : "solid",
        borderColor: { draft: "text.secondary", planned: "primary.main", running: "primary.main", closed: "divider" }[
          block.stage
        ],
        borderRadius: 1,
        p: 0.75,
        mb: 0.5,
        bgcolor: "background.paper",
        cursor: mayMove && drag ? "grab" : undefined,
      }}
    >
      {isNamed && <Typography sx={{ fontWeight: 700, overflowWrap: "anywhere" }}>{block.homes}</Typography>}
      <Typography variant="body2" sx={{ fontWeight: 700 }}>
        {block.hours}
      </Typography>
      <Length block={block} />
      <Box component="ul" sx={{ listStyle: "none", p: 0, m: 0 }}>
        {block.works.map((work) => (
          <Typography component="li" variant="body2" key={work} sx={{ overflowWrap: "anywhere" }}>
            {work}
          </Typography>
        ))}
        {block.works.length === 0 && (
          <Typography component="li" variant="body2" color="textSecondary">
            Nothing is due
          </Typography>
        )}
      </Box>
      {block.left_out.length > 0 && (
        <Typography variant="body2" color="error">
          No time for {block.left_out.join("; ")}
        </Typography>
      )}
      {block.minds.map((mind) => (
        <Typography variant="body2" sx={{ color: "warning.main" }} key={mind}>
          {mind}
        </Typography>
      ))}
      {block.changes.length > 0 && (
        <Typography variant="body2" sx={{ fontStyle: "italic" }}>
          Since you confirmed it: {block.changes.join("; ")}
        </Typography>
      )}
      <Stack direction="row" sx={{ flexWrap: "wrap" }}>
        {isDraft && block.works.length > 0 && (
          <Button
            sx={small}
            size="small"
            variant="contained"
            disabled={isPending}
            onClick={() => confirm(block)}
            aria-label={`Confirm ${name}`}
          >
            Confirm
          </Button>
        )}
        <Button
          sx={small}
          size="small"
          component={Link}
          to={placeOf(block)}
          aria-label={`${acts[block.stage]}: ${name}`}
        >
          {acts[block.stage]}
        </Button>
        {mayMove && (
          <Button
            sx={small}
            size="small"
            aria-label={`Move ${name}`}
            aria-haspopup="menu"
            onClick={(event) => setAt(event.currentTarget)}
            // By keys a day at a time, without the list.
            onKeyDown={(event) => {
              if (event.key === "ArrowLeft") step(-1);
              if (event.key === "ArrowRight") step(1);
            }}
          >
            Move
          </Button>
        )}
      </Stack>
      <Menu anchorEl={at} open={at !== null} onClose={() => setAt(null)}>
        {days
          .filter((one) => one.day !== block.day && !one.is_over)
          .map((one) => (
            <MenuItem
              key={one.day}
              onClick={() => {
                setAt(null);
                move(block, one.day);
              }}
              sx={{ minHeight: 44 }}
            >
              To {new Intl.DateTimeFormat("en", { weekday: "long", timeZone: "UTC" }).format(new Date(one.day))},{" "}
              {dayText(one.day)}
              {one.is_off && " (off)"}
            </MenuItem>
          ))}
        <MenuItem
          onClick={() => {
            setAt(null);
            move(block, block.week_later);
          }}
          sx={{ minHeight: 44 }}
        >
          A week later, {dayText(block.week_later)}
        </MenuItem>
        {isDraft && (
          <MenuItem
            onClick={() => {
              setAt(null);
              move(block, null);
            }}
            sx={{ minHeight: 44 }}
          >
            Not this time
          </MenuItem>
        )}
      </Menu>
    </Box>
  );
}

/** Three of them side by side in a day's column, each as large as a finger. */
const small = { minWidth: 44, px: 1 };

/** As long as this is the whole width. */
const wholeMin = 240;

/** How long it takes: a line, and hatched what a likely further bath adds. */
function Length({ block }: { block: Block }) {
  const share = (minutes: number) => `${Math.min(100, (100 * minutes) / wholeMin)}%`;
  const further = (block.likely_min ?? block.minutes) - block.minutes;
  return (
    <Box aria-hidden sx={{ display: "flex", height: 8, my: 0.5 }}>
      <Box sx={{ width: share(block.minutes), bgcolor: "primary.main", borderRadius: 1 }} />
      {further > 0 && (
        <Box
          sx={{
            width: share(further),
            border: 1,
            borderColor: "primary.main",
            borderRadius: 1,
            backgroundImage:
              "repeating-linear-gradient(135deg, var(--mui-palette-primary-main) 0 2px, transparent 2px 6px)",
          }}
        />
      )}
    </Box>
  );
}
