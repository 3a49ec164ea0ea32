import { Button, MenuItem, Stack, TextField, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useSearchParams } from "react-router";
import type { Schemas } from "../api/client";
import { type LogQuery, queries } from "../api/queries";
import { YearLine } from "../pictures/YearLine";
import { Page, Ready } from "../ui/Notices";
import { LogTable } from "./LogTable";

/** So many lines more are asked for at a time. */
const some = 60;

/** What was done, by home, brewer and year; what is chosen stands in the address. */
export function LogPage() {
  const [asked, setAsked] = useSearchParams();
  const [most, setMost] = useState(some);
  const [home, brewer, year, work, words] = ["home", "brewer", "year", "work", "words"].map(
    (name) => asked.get(name) ?? "",
  );
  const query: LogQuery = {
    ...(home && { home }),
    ...(brewer && { brewer }),
    ...(year && { year: Number(year) }),
    ...(works.some(([known]) => known === work) && { work: work as Schemas["Work"] }),
    ...(words && { words }),
    most,
  };
  const log = useQuery(queries.log(query));
  const choose = (change: Record<string, string>) => {
    const next = Object.entries({ ...Object.fromEntries(asked), ...change }).filter(([, value]) => value !== "");
    setAsked(Object.fromEntries(next), { replace: true });
    setMost(some);
  };
  return (
    <Page title="Log">
      <Whose home={home ?? ""} brewer={brewer ?? ""} choose={choose} />
      <Which work={work ?? ""} words={words ?? ""} choose={choose} />
      <Ready query={log}>
        {({ lines, more, years, line }) => (
          <>
            {line && <YearLine line={line} />}
            {years.length > 0 && (
              <ToggleButtonGroup
                exclusive
                value={year}
                aria-label="Which year"
                onChange={(_, chosen: string | null) => choose({ year: chosen ?? "" })}
                sx={{ flexWrap: "wrap", gap: 1 }}
              >
                {years.map((of) => (
                  <ToggleButton key={of.year} value={String(of.year)} sx={{ minHeight: 48, textAlign: "left" }}>
                    {of.year}: {of.text}
                  </ToggleButton>
                ))}
              </ToggleButtonGroup>
            )}
            {lines.length === 0 && (home || brewer || year || work || words) ? (
              <Typography>Nothing that was done fits that.</Typography>
            ) : (
              <LogTable lines={lines} named={!brewer} />
            )}
            {more > 0 && (
              <Button variant="outlined" sx={{ alignSelf: "flex-start" }} onClick={() => setMost(most + some)}>
                Show more of {more}
              </Button>
            )}
            {lines.length > 0 && (
              <Button variant="outlined" sx={{ alignSelf: "flex-start" }} href="/api/log.csv" download="murlo-log.csv">
                All of it as a table
              </Button>
            )}
          </>
        )}
      </Ready>
    </Page>
  );
}

const works: [Schemas["Work"], string][] = [
  ["descale", "Descaling"],
  ["needles", "Needles"],
  ["upkeep", "Small works"],
];

/** Of which work, and what stands in its words. */
function Which({
  work,
  words,
  choose,
}: {
  work: string;
  words: string;
  choose: (change: Record<string, string>) => void;
}) {
  return (
    <Stack direction={{ xs: "column", sm: "row" }} spacing={2} role="search" aria-label="Which cleans">
      <TextField
        label="Find in the log"
        placeholder="vinegar, lid needle, a name"
        value={words}
        onChange={(e) => choose({ words: e.target.value })}
        slotProps={{ inputLabel: { shrink: true } }}
      />
      <TextField
        select
        label="Work"
        value={works.some(([known]) => known === work) ? work : ""}
        onChange={(e) => choose({ work: e.target.value })}
        slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      >
        <MenuItem value="">All work</MenuItem>
        {works.map(([known, name]) => (
          <MenuItem key={known} value={known}>
            {name}
          </MenuItem>
        ))}
      </TextField>
    </Stack>
  );
}

/** Whose lines: all, those of a home, or of one brewer. */
function Whose({
  home,
  brewer,
  choose,
}: {
  home: string;
  brewer: string;
  choose: (change: Record<string, string>) => void;
}) {
  const homes = useQuery(queries.household()).data?.homes ?? [];
  const brewers = useQuery(queries.counter()).data?.brewers ?? [];
  const name = homes.find((known) => known.id === home)?.name;
  const there = brewers.filter((card) => !name || card.home === name);
  const names = there.toSorted((a, b) => a.nickname.localeCompare(b.nickname));
  if (brewers.length < 2) return null;
  return (
    <Stack direction={{ xs: "column", sm: "row" }} spacing={2} role="search" aria-label="Whose cleans">
      {homes.length > 1 && (
        <TextField
          select
          label="Home"
          value={name ? home : ""}
          onChange={(e) => choose({ home: e.target.value, brewer: "", year: "" })}
          slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
        >
          <MenuItem value="">All homes</MenuItem>
          {homes.map((known) => (
            <MenuItem key={known.id} value={known.id}>
              {known.name}
            </MenuItem>
          ))}
        </TextField>
      )}
      <TextField
        select
        label="Brewer"
        value={names.some((card) => card.id === brewer) ? brewer : ""}
        onChange={(e) => choose({ brewer: e.target.value, year: "" })}
        slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      >
        <MenuItem value="">
          <Typography component="span">All brewers</Typography>
        </MenuItem>
        {names.map((card) => (
          <MenuItem key={card.id} value={card.id}>
            {card.nickname}
          </MenuItem>
        ))}
      </TextField>
    </Stack>
  );
}
