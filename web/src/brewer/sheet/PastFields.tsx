import { MenuItem, TextField } from "@mui/material";
import { useFormContext } from "react-hook-form";
import type { Schemas } from "../../api/client";
import { ages, lastCleans } from "../../first/past";
import { Field } from "../../ui/Field";

type Draft = Schemas["BrewerDraft"];

/** What is known of a brewer's past: days where they are known, rough words where not. */
export function PastFields() {
  const { watch, setValue } = useFormContext<Draft>();
  const draft = watch();
  const set = (change: Partial<Pick<Draft, "last_descaled" | "beforehand">>) => {
    for (const name of ["last_descaled", "beforehand"] as const)
      if (name in change) setValue(name, change[name] ?? null);
  };
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
        <Field<Draft> as="day" name="last_descaled" label="Day of the last descaling" help="As far as you know" />
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
      {told === null && <Field<Draft> as="day" name="in_use_since" label="In use since" help="As far as you know" />}
    </>
  );
}
