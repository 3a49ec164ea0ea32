import { MenuItem, TextField } from "@mui/material";
import type { Schemas } from "../api/client";
import { ages, lastCleans } from "../first/past";
import { DayField } from "../ui/DayField";

type Draft = Pick<Schemas["BrewerDraft"], "in_use_since" | "last_descaled" | "beforehand">;

/** What is known of a brewer's past: days where they are known, rough words where not. */
export function PastFields({
  draft,
  fields,
  set,
}: {
  draft: Draft;
  fields: Record<string, string>;
  set: (change: Partial<Draft>) => void;
}) {
  const told = draft.beforehand;
  const last = draft.last_descaled != null ? "day" : (told?.last_clean ?? "never");
  const age = told?.in_use ?? "day";
  return (
    <>
      <TextField
        select
        label="Last descaled"
        value={last}
        helperText="Roughly will do"
        onChange={(e) =>
          e.target.value === "day"
            ? set({ last_descaled: draft.in_use_since, beforehand: null })
            : set({
                last_descaled: null,
                beforehand: {
                  last_clean: e.target.value as Schemas["LastClean"],
                  in_use: told?.in_use ?? "unknown",
                },
              })
        }
      >
        {lastCleans.map(([id, words]) => (
          <MenuItem key={id} value={id}>
            {words}
          </MenuItem>
        ))}
        <MenuItem value="day">On a day</MenuItem>
      </TextField>
      {last === "day" && (
        <DayField
          label="Day of the last descaling"
          value={draft.last_descaled ?? ""}
          error={fields.last_descaled}
          help="As far as you know"
          onChange={(day) => set({ last_descaled: day === "" ? null : day })}
        />
      )}
      {last !== "day" && (
        <TextField
          select
          label="How long in use"
          value={age}
          helperText="Roughly will do"
          onChange={(e) =>
            set({
              beforehand:
                e.target.value === "day"
                  ? null
                  : {
                      last_clean: told?.last_clean ?? "never",
                      in_use: e.target.value as Schemas["InUse"],
                    },
            })
          }
        >
          {ages.map(([id, words]) => (
            <MenuItem key={id} value={id}>
              {words}
            </MenuItem>
          ))}
          {(last === "never" || told === null) && <MenuItem value="day">Since a day</MenuItem>}
        </TextField>
      )}
      {told === null && (
        <DayField
          label="In use since"
          value={draft.in_use_since}
          error={fields.in_use_since}
          help="As far as you know"
          onChange={(day) => set({ in_use_since: day })}
        />
      )}
    </>
  );
}
