import { Button, Stack, Typography } from "@mui/material";
import { useState } from "react";
import { Refused, type Schemas, useBrewer } from "../api/client";
import { useEntries } from "../brewer/Journal";
import { DayField } from "../ui/DayField";

/** The journal entry that a clean makes of its brewer's light; telling it again changes nothing. */
export const lightEntry = (clean: string) => `light-${clean}`;

/** When the light came on: it tells how much chalk there was by then. */
export function LightSince({ clean }: { clean: Schemas["CleanView"] }) {
  const brewer = useBrewer(clean.plan.brewer_id).data;
  const entries = useEntries(clean.plan.brewer_id);
  const [day, setDay] = useState("");
  if (!brewer) return null;
  const told = brewer.journal.find(({ entry }) => entry.id === lightEntry(clean.id));
  if (told) return <Typography role="status">{told.text}, written down.</Typography>;
  const wrong = entries.error instanceof Refused ? entries.error.fields : {};
  return (
    <Stack component="section" aria-label="Its light" spacing={1}>
      <Typography variant="h3" component="h2">
        Does its light ask for descaling? Since when?
      </Typography>
      <Stack direction="row" spacing={1} sx={{ alignItems: "flex-start" }}>
        <DayField
          label="It came on"
          value={day}
          error={wrong.day ?? entries.error?.message}
          help="Leave it if it is dark"
          onChange={setDay}
        />
        <Button
          variant="outlined"
          sx={{ minHeight: 48 }}
          disabled={day === "" || entries.pending}
          onClick={() =>
            entries.add(
              day,
              { kind: "sign", circuit_id: clean.plan.circuit_id, sign: "light", dated: true },
              "The light, written down",
              undefined,
              lightEntry(clean.id),
            )
          }
        >
          Write it down
        </Button>
      </Stack>
    </Stack>
  );
}
