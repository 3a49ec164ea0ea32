import { Box, Button, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { ink } from "../theme";

type Lane = Schemas["Lane"];

/** Windows of one lane that would lie over each other, in rows. */
function rows(marks: Schemas["Mark"][]): Schemas["Mark"][][] {
  const all: Schemas["Mark"][][] = [];
  for (const mark of marks) {
    const row = all.find((known) => known.every((other) => other.to < mark.from || mark.to < other.from));
    if (row) row.push(mark);
    else all.push([mark]);
  }
  return all;
}

const most = 5;

/**
 * The weeks ahead, a lane for each home: bands are due windows with the likely day in them, dots small works, pegs visits,
 * hatching days away, a line below the lane times without guests. Everything stands in words beside it.
 */
export function Lanes({ lanes, open }: { lanes: Schemas["Lanes"]; open: (home: string) => void }) {
  const { days } = lanes;
  return (
    <Box sx={{ overflowX: "auto" }}>
      <Box sx={{ minWidth: 640 }}>
        <Box
          aria-hidden
          sx={{ display: "grid", gridTemplateColumns: "200px 1fr", typography: "body2", color: "text.secondary" }}
        >
          <span />
          <Box sx={{ position: "relative", height: 22 }}>
            <Box component="span" sx={{ position: "absolute", left: 0 }}>
              today
            </Box>
            {lanes.weeks
              .filter(({ at }) => at > 3 && at < days - 4)
              .map(({ at, label }) => (
                <Box component="span" key={at} sx={{ position: "absolute", left: `${(100 * at) / days}%`, pl: 0.5 }}>
                  {label}
                </Box>
              ))}
          </Box>
        </Box>
        <Box component="ul" sx={{ listStyle: "none", p: 0, m: 0 }}>
          {lanes.lanes.map((lane) => (
            <OneLane key={lane.home_id} lane={lane} lanes={lanes} open={open} />
          ))}
        </Box>
      </Box>
    </Box>
  );
}

/** A share of the lane's width. */
const share = (days: number, lanes: Schemas["Lanes"]) => `${(100 * days) / lanes.days}%`;

const band = 18;

function OneLane({ lane, lanes, open }: { lane: Lane; lanes: Schemas["Lanes"]; open: (home: string) => void }) {
  const bands = rows(lane.marks.filter((mark) => mark.kind === "due")).slice(0, most);
  const visits = lane.marks.filter((mark) => mark.kind === "visit" || mark.kind === "visited");
  return (
    <Box
      component="li"
      sx={{ display: "grid", gridTemplateColumns: "200px 1fr", borderTop: 1, borderColor: "divider", py: 1 }}
    >
      <Box sx={{ pr: 1, minWidth: 0 }}>
        <Button
          onClick={() => open(lane.home_id)}
          sx={{ p: 0.5, justifyContent: "flex-start", textAlign: "left", fontSize: "1rem", overflowWrap: "anywhere" }}
        >
          {lane.name}
        </Button>
        <Typography variant="body2" color="textSecondary" sx={{ pl: 0.5 }}>
          {lane.text.split("; ")[0]}
        </Typography>
      </Box>
      <Box sx={{ position: "relative", minHeight: 14 + bands.length * (band + 3) + 26 }}>
        <Ground lane={lane} lanes={lanes} />
        {bands.flatMap((row, n) => row.map((mark) => <Window key={mark.text} mark={mark} lanes={lanes} row={n} />))}
        <Works lane={lane} lanes={lanes} />
        {visits.map((mark) => (
          <Flag key={mark.id} mark={mark} lanes={lanes} home={lane.name} />
        ))}
        <Typography sx={{ position: "absolute", width: 1, height: 1, overflow: "hidden", clipPath: "inset(50%)" }}>
          {lane.text}
        </Typography>
      </Box>
    </Box>
  );
}

/** Weeks, days away, times without guests. */
function Ground({ lane, lanes }: { lane: Lane; lanes: Schemas["Lanes"] }) {
  return (
    <Box aria-hidden>
      {lanes.weeks.map((week) => (
        <Box
          key={week.at}
          sx={{
            position: "absolute",
            left: share(week.at, lanes),
            top: 0,
            bottom: 0,
            borderLeft: 1,
            borderColor: "divider",
          }}
        />
      ))}
      {lane.away.map((away) => (
        <Box
          key={away.from}
          sx={{
            position: "absolute",
            left: share(away.from, lanes),
            width: share(away.to - away.from + 1, lanes),
            top: 0,
            bottom: 0,
            color: "text.secondary",
            opacity: 0.5,
            background: "repeating-linear-gradient(125deg, currentColor 0 1.5px, transparent 1.5px 9px)",
          }}
        />
      ))}
      {lane.free.map((free) => (
        <Box
          key={free.from}
          sx={{
            position: "absolute",
            left: share(free.from, lanes),
            width: share(free.to - free.from + 1, lanes),
            bottom: 0,
            borderBottom: 4,
            borderColor: ink.water,
          }}
        />
      ))}
    </Box>
  );
}

/** When a brewer likely falls due. */
function Window({ mark, lanes, row }: { mark: Schemas["Mark"]; lanes: Schemas["Lanes"]; row: number }) {
  const color = mark.is_due ? "warning.main" : "primary.main";
  return (
    <Box
      aria-hidden
      title={mark.text}
      sx={{
        position: "absolute",
        left: share(mark.from, lanes),
        width: share(mark.to - mark.from + 1, lanes),
        top: 6 + row * (band + 3),
        height: band,
        "&::before": { content: '""', position: "absolute", inset: 0, bgcolor: color, opacity: 0.2 },
      }}
    >
      {mark.at < lanes.days && (
        <Box
          sx={{
            position: "absolute",
            left: `${(100 * (mark.at - mark.from)) / (mark.to - mark.from + 1)}%`,
            top: 0,
            bottom: 0,
            width: 6,
            bgcolor: color,
          }}
        />
      )}
      <Typography
        noWrap
        sx={{
          position: "absolute",
          left: mark.at - mark.from < 6 ? 12 : 4,
          right: 2,
          fontSize: "0.78rem",
          lineHeight: "18px",
        }}
      >
        {mark.name}
      </Typography>
    </Box>
  );
}

/** Small works by their days, with how many there are. */
function Works({ lane, lanes }: { lane: Lane; lanes: Schemas["Lanes"] }) {
  const days = new Map<number, Schemas["Mark"][]>();
  for (const mark of lane.marks.filter((known) => known.kind === "work"))
    days.set(mark.at, [...(days.get(mark.at) ?? []), mark]);
  return [...days].map(([at, marks]) => {
    const isDue = marks.some((mark) => mark.is_due);
    return (
      <Box
        key={at}
        aria-hidden
        title={marks.map((mark) => mark.text).join("\n")}
        sx={{
          position: "absolute",
          left: `calc(${share(at, lanes)} + 3px)`,
          bottom: 6,
          minWidth: 16,
          height: 16,
          px: "4px",
          borderRadius: 8,
          border: 2,
          borderColor: "text.primary",
          bgcolor: isDue ? "text.primary" : "transparent",
          color: isDue ? "background.paper" : "text.primary",
          fontSize: "0.7rem",
          lineHeight: "12px",
          textAlign: "center",
        }}
      >
        {marks.length > 1 && marks.length}
      </Box>
    );
  });
}

/** A visit: a flag on its day, which opens it. */
function Flag({ mark, lanes, home }: { mark: Schemas["Mark"]; lanes: Schemas["Lanes"]; home: string }) {
  return (
    <Button
      component={Link}
      to={`/visits/${mark.id}`}
      aria-label={`${home}: ${mark.text}`}
      title={mark.text}
      sx={{
        position: "absolute",
        left: `calc(${share(mark.at + 0.5, lanes)} - 4px)`,
        top: -4,
        bottom: -4,
        minWidth: 44,
        p: 0,
        zIndex: 1,
      }}
    >
      <Box sx={{ position: "absolute", left: 3, top: 0, bottom: 0, width: 3, bgcolor: "primary.main" }} />
      <Box
        sx={{
          position: "absolute",
          left: 4,
          top: 0,
          width: 22,
          height: 14,
          bgcolor: mark.kind === "visit" ? "primary.main" : "background.paper",
          border: 2,
          borderColor: "primary.main",
        }}
      />
    </Button>
  );
}
