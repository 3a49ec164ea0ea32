import { Box, Button, Chip, Pagination, Paper, Stack, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { type Schemas, send, useChange } from "../api/client";
import { queries } from "../api/queries";
import { HardnessParts } from "../pictures/HardnessParts";
import { Ruler } from "../pictures/Ruler";
import { ErrorNotice, Page, Ready } from "../ui/Notices";
import { useUndo } from "../ui/Undo";
import { WaterForm } from "./WaterForm";

export function WatersPage() {
  const query = useQuery(queries.waters());
  const [chosen, setChosen] = useState("");
  const [editing, setEditing] = useState<"new" | "chosen" | null>(null);
  return (
    <Page
      title="Waters"
      aside={
        <Button variant="outlined" onClick={() => setEditing("new")}>
          Add a water
        </Button>
      }
    >
      <Ready query={query}>
        {({ ruler, scales, waters, brewers }) => {
          const here = waters.find((w) => w.water.id === chosen) ?? waters[0];
          return (
            <Stack spacing={2}>
              {editing === "new" && (
                <Paper sx={{ p: 2 }}>
                  <WaterForm
                    onDone={(water) => {
                      setChosen(water.id);
                      setEditing(null);
                    }}
                    onCancel={() => setEditing(null)}
                  />
                </Paper>
              )}
              {!here && (
                <Typography>
                  No water yet. Add the tap, a well or a bottle: how hard it is decides how fast chalk grows.
                </Typography>
              )}
              {here && (
                <>
                  <Stack
                    direction="row"
                    component="ul"
                    sx={{ flexWrap: "wrap", gap: 1, p: 0, m: 0, listStyle: "none" }}
                  >
                    {waters.map((w) => (
                      <li key={w.water.id}>
                        <Button
                          variant={w === here ? "contained" : "outlined"}
                          aria-pressed={w === here}
                          onClick={() => {
                            setChosen(w.water.id);
                            setEditing(null);
                          }}
                        >
                          {w.water.name}
                        </Button>
                      </li>
                    ))}
                  </Stack>
                  {editing === "chosen" ? (
                    <Paper sx={{ p: 2 }}>
                      <WaterForm
                        key={here.water.id}
                        water={here.water}
                        onDone={() => setEditing(null)}
                        onCancel={() => setEditing(null)}
                      />
                    </Paper>
                  ) : (
                    <OneWater
                      here={here}
                      ruler={ruler}
                      scales={scales}
                      waters={waters}
                      onEdit={() => setEditing("chosen")}
                    />
                  )}
                  <EachBrewer waters={waters} brewers={brewers} chosen={here.water.id} />
                </>
              )}
            </Stack>
          );
        }}
      </Ready>
    </Page>
  );
}

function OneWater({
  here,
  ruler,
  scales,
  waters,
  onEdit,
}: {
  here: Schemas["WaterView"];
  ruler: Schemas["RulerClass"][];
  scales: Schemas["RulerScale"][];
  waters: Schemas["WaterView"][];
  onEdit: () => void;
}) {
  const offerUndo = useUndo();
  const restore = useChange(send.restoreWater);
  const remove = useChange(send.deleteWater);
  const { id, name } = here.water;
  return (
    <Paper sx={{ p: { xs: 2, md: 3 } }}>
      <Stack direction="row" sx={{ justifyContent: "space-between", gap: 1, flexWrap: "wrap" }}>
        <Box>
          <Typography variant="h2">{name}</Typography>
          <Typography>{here.text}</Typography>
        </Box>
        <Stack direction="row" spacing={1}>
          <Button variant="outlined" onClick={onEdit}>
            Edit
          </Button>
          <Button
            variant="outlined"
            color="inherit"
            onClick={() =>
              remove.mutate(id, {
                onSuccess: () => offerUndo({ text: `${name} was put away`, undo: () => restore.mutate(id) }),
              })
            }
          >
            Put away
          </Button>
        </Stack>
      </Stack>
      <ErrorNotice error={remove.error ?? restore.error} />
      <Box sx={{ overflowX: "auto", my: 2 }} tabIndex={0} role="group" aria-label="Hardness ruler">
        <Ruler classes={ruler} scales={scales} waters={waters} chosen={id} />
      </Box>
      {here.portrait && (
        <Stack direction={{ xs: "column", sm: "row" }} spacing={3} sx={{ alignItems: "center" }}>
          <HardnessParts portrait={here.portrait} />
          <Box>
            <Typography variant="h3" component="h3" gutterBottom>
              The same hardness in every unit
            </Typography>
            <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1 }}>
              {here.portrait.in_units.map((text) => (
                <Chip key={text} label={text} variant="outlined" />
              ))}
            </Stack>
            <Typography variant="body2" color="textSecondary" sx={{ mt: 2 }}>
              Only the carbonate part can turn to chalk (scale), and only as much of it as the heater drives out. So two
              waters of equal hardness may leave very different crusts.
            </Typography>
          </Box>
        </Stack>
      )}
    </Paper>
  );
}

const limits: Record<Schemas["DueBy"], string> = {
  chalk: "",
  light: "its light",
  days: "your rule of days",
  brews: "your rule of brews",
  hygiene: "half a year is the limit",
};

/** So many brewers stand on one page. */
const aPage = 12;

/** What would change: each brewer's interval with each water. */
function EachBrewer({
  waters,
  brewers,
  chosen,
}: {
  waters: Schemas["WaterView"][];
  brewers: Schemas["WithEachWater"][];
  chosen: string;
}) {
  const [search, setSearch] = useState("");
  const [page, setPage] = useState(0);
  if (brewers.length === 0) return null;
  const found = brewers.filter((b) => b.nickname.toLowerCase().includes(search.trim().toLowerCase()));
  const pages = Math.ceil(found.length / aPage);
  const at = Math.min(page, Math.max(0, pages - 1));
  const shown = found.slice(at * aPage, (at + 1) * aPage);
  const cell = { p: 1, borderBottom: 1, borderColor: "divider", textAlign: "left", verticalAlign: "top" } as const;
  return (
    <Paper sx={{ p: { xs: 2, md: 3 } }}>
      <Typography variant="h2">What each water would mean</Typography>
      <Typography color="textSecondary">
        Days from clean to clean at today’s habit. The water a brewer has now is framed.
      </Typography>
      {brewers.length > aPage && (
        <TextField
          label="Find a brewer"
          value={search}
          onChange={(e) => {
            setSearch(e.target.value);
            setPage(0);
          }}
          sx={{ mt: 1, maxWidth: 360 }}
        />
      )}
      <Box sx={{ overflowX: "auto", mt: 1 }} tabIndex={0} role="group" aria-label="Days between cleans">
        <Box component="table" sx={{ borderCollapse: "collapse", width: "100%", minWidth: 140 + waters.length * 120 }}>
          <thead>
            <tr>
              <Box component="th" scope="col" sx={cell}>
                Brewer
              </Box>
              {waters.map((w) => (
                <Box
                  component="th"
                  scope="col"
                  key={w.water.id}
                  sx={{ ...cell, fontWeight: w.water.id === chosen ? 700 : 400 }}
                >
                  {w.water.name}
                </Box>
              ))}
            </tr>
          </thead>
          <tbody>
            {shown.map((b) => (
              <tr key={b.brewer_id}>
                <Box component="th" scope="row" sx={{ ...cell, minWidth: 110, overflowWrap: "break-word" }}>
                  <Link to={`/brewers/${b.brewer_id}`} style={{ color: "inherit" }}>
                    {b.nickname}
                  </Link>
                </Box>
                {b.intervals.map((interval, i) => {
                  const now = waters[i]?.water.id === b.water_id;
                  if (!interval) return <Box component="td" key={waters[i]?.water.id} sx={cell} />;
                  return (
                    <Box component="td" key={waters[i]?.water.id} sx={cell}>
                      <Box
                        sx={{
                          display: "inline-block",
                          whiteSpace: "nowrap",
                          px: 1,
                          border: 2,
                          borderRadius: 1,
                          borderColor: now ? "text.primary" : "transparent",
                        }}
                      >
                        <Box component="span" sx={{ fontSize: "1.25rem", fontWeight: 700 }}>
                          {interval.days}
                        </Box>{" "}
                        days{now && " now"}
                      </Box>
                      <Typography variant="body2" color="textSecondary" sx={{ px: 1 }}>
                        {interval.low_days < interval.high_days
                          ? `${interval.low_days} to ${interval.high_days}`
                          : limits[interval.by]}
                      </Typography>
                    </Box>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </Box>
      </Box>
      {found.length === 0 && <Typography>No brewer is called that.</Typography>}
      {pages > 1 && (
        <Pagination
          count={pages}
          page={at + 1}
          onChange={(_, next) => setPage(next - 1)}
          sx={{ mt: 1, "& button": { minWidth: 44, minHeight: 44 } }}
        />
      )}
    </Paper>
  );
}
