import { Box, Button, Stack, Typography } from "@mui/material";
import { useFieldArray } from "react-hook-form";
import type { Schemas } from "../../api/client";
import { Field, type Option } from "../../ui/Field";
import { meanings } from "../Signals";

type Draft = Schemas["BrewerDraft"];

const lines = [
  ["enter", "Enter the cleaning mode", "As its manual says it"],
  ["press", "One dispense", "What to press for each one; in the cleaning mode, if it has one"],
  ["cup", "A plain cup", "Only if another button than in the mode"],
  ["rearm", "Between presses", "Open and close the lid; empty if nothing"],
  ["leave", "Leave the mode", "How it goes back to brewing"],
  ["purge", "Run it empty", "Only if it can: and when to let go"],
] as const;

const means = Object.entries(meanings) as unknown as Option[];

/** The button recipe of one side, as its manual has it: typed once, shown at every step. */
export function OperationFields({
  within,
  programme,
}: {
  within: "operation" | "other_side.operation";
  programme: boolean;
}) {
  const signals = useFieldArray<Draft, `${typeof within}.signals`>({ name: `${within}.signals` });
  return (
    <>
      {lines.map(([name, label, help]) => (
        <Field<Draft> key={name} name={`${within}.${name}`} label={label} help={help} />
      ))}
      <Field<Draft> as="number" name={`${within}.hold_seconds`} label="Hold for, seconds" help="To enter the mode" />
      {programme && (
        <Field<Draft>
          as="number"
          name={`${within}.programme_minutes`}
          label="Programme, minutes"
          help="Empty: estimated, then timed"
        />
      )}
      <Field<Draft>
        as="number"
        name={`${within}.healthy.seconds`}
        label="A cup takes, seconds"
        help="Largest size, when all is well"
      />
      <Field<Draft> as="number" name={`${within}.healthy.streams`} label="Streams" help="That fall when all is well" />
      <Field<Draft>
        as="tick"
        name={`${within}.reenter`}
        label="The mode is entered again for each fill of rinse water"
      />
      <Box sx={{ gridColumn: "1 / -1" }}>
        <Typography variant="h3" gutterBottom>
          What it shows, and what that means
        </Typography>
        <Stack spacing={1}>
          {signals.fields.map(({ id }, i) => (
            <Stack key={id} direction={{ xs: "column", sm: "row" }} spacing={1}>
              <Field<Draft> name={`${within}.signals.${i}.seen`} label={`Signal ${i + 1}`} />
              <Field<Draft> as="choice" name={`${within}.signals.${i}.means`} label="Means" options={means} />
              <Button sx={{ flexShrink: 0 }} onClick={() => signals.remove(i)}>
                Take out
              </Button>
            </Stack>
          ))}
          <Box>
            <Button variant="outlined" onClick={() => signals.append({ seen: "", means: "your_turn" })}>
              Another signal
            </Button>
          </Box>
        </Stack>
      </Box>
    </>
  );
}
