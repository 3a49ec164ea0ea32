import { Button, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Refused, type Schemas } from "../api/client";
import { queries } from "../api/queries";
import { useEntries } from "../brewer/Journal";
import { DayField } from "../ui/DayField";

/** The journal entry that a clean makes of its brewer's light; telling it again changes nothing. */
export const lightEntry = (clean: string) => `light-${clean}`;

/** When the light came on: it tells how much chalk there was by then. */
export function LightSince({ clean }: { clean: Schemas["CleanView"] }) {
  return (
    <DayTold
      clean={clean}
      entry={lightEntry(clean.id)}
      what={{ kind: "sign", circuit_id: clean.plan.circuit_id, sign: "light", dated: true }}
      name="Its light"
      asks="Does its light ask for descaling? Since when?"
      label="It came on"
      help="Leave it if it is dark"
      done="The light, written down"
    />
  );
}

/** When the filter that comes out now was fitted, where nobody has told. */
export function FilterSince({ clean }: { clean: Schemas["CleanView"] }) {
  const brewer = useQuery(queries.brewer(clean.plan.brewer_id)).data;
  const filter = brewer?.card.upkeep.find(({ job }) => job === "filter");
  const entry = `filter-${clean.id}`;
  const toldHere = brewer?.journal.some((line) => line.entry.id === entry);
  if (!filter || (filter.last && !toldHere)) return null;
  return (
    <DayTold
      clean={clean}
      entry={entry}
      what={{ kind: "filter_fitted" }}
      name="Its filter"
      asks="When was this filter fitted?"
      label="Fitted"
      help="About is near enough; leave it if nobody knows"
      done="The filter, written down"
    />
  );
}

/** A day that is asked for where it comes up; once told it says so. */
function DayTold({
  clean,
  entry,
  what,
  name,
  asks,
  label,
  help,
  done,
}: {
  clean: Schemas["CleanView"];
  entry: string;
  what: Schemas["What"];
  name: string;
  asks: string;
  label: string;
  help: string;
  done: string;
}) {
  const brewer = useQuery(queries.brewer(clean.plan.brewer_id)).data;
  const entries = useEntries(clean.plan.brewer_id);
  const [day, setDay] = useState("");
  if (!brewer) return null;
  const told = brewer.journal.find((line) => line.entry.id === entry);
  if (told) return <Typography role="status">{told.text}, written down.</Typography>;
  const wrong = entries.error instanceof Refused ? entries.error.fields : {};
  return (
    <Stack component="section" aria-label={name} spacing={1}>
      <Typography variant="h3" component="h2">
        {asks}
      </Typography>
      <Stack direction="row" spacing={1} sx={{ alignItems: "flex-start" }}>
        <DayField label={label} value={day} error={wrong.day ?? entries.error?.message} help={help} onChange={setDay} />
        <Button
          variant="outlined"
          sx={{ minHeight: 56 }}
          disabled={day === "" || entries.pending}
          onClick={() => entries.add(day, what, done, undefined, entry)}
        >
          Write it down
        </Button>
      </Stack>
    </Stack>
  );
}
