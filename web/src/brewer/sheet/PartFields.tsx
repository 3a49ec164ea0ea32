import { Box, Button, Stack } from "@mui/material";
import { useFieldArray } from "react-hook-form";
import type { Schemas } from "../../api/client";
import { Field, type Option } from "../../ui/Field";

type Draft = Schemas["BrewerDraft"];

const cares: [Schemas["Care"], string][] = [
  ["hand", "by hand"],
  ["top_rack", "top rack too"],
  ["rinse_only", "only rinsed"],
  ["wipe_only", "only wiped"],
];

/** The parts that come off, and how each may be washed. */
export function PartFields() {
  const parts = useFieldArray<Draft, "parts">({ name: "parts" });
  return (
    <Stack spacing={1} sx={{ gridColumn: "1 / -1" }}>
      {parts.fields.map(({ id }, i) => (
        <Stack key={id} direction={{ xs: "column", sm: "row" }} spacing={1}>
          <Field<Draft> name={`parts.${i}.name`} label={`Part ${i + 1}`} />
          <Field<Draft>
            as="choice"
            name={`parts.${i}.care`}
            label="Washed"
            options={cares satisfies Option[]}
            sx={{ maxWidth: 200 }}
          />
          <Field<Draft> as="tick" name={`parts.${i}.in_use`} label="Bath touches it" sx={{ whiteSpace: "nowrap" }} />
          <Button sx={{ flexShrink: 0 }} onClick={() => parts.remove(i)}>
            Take out
          </Button>
        </Stack>
      ))}
      <Box>
        <Button variant="outlined" onClick={() => parts.append({ name: "", care: "hand", in_use: false })}>
          Another part
        </Button>
      </Box>
    </Stack>
  );
}
