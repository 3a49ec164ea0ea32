import { Box, Button, Stack } from "@mui/material";
import { useFieldArray } from "react-hook-form";
import type { Schemas } from "../../api/client";
import { Field, type Option } from "../../ui/Field";

type Draft = Schemas["BrewerDraft"];

const seats: Option[] = [
  ["entrance", "in the lid"],
  ["exit", "below the pod"],
];

/** The needle map: which needles there are, and where their holes face. */
export function NeedleFields() {
  const needles = useFieldArray<Draft, "needles", "key">({ name: "needles", keyName: "key" });
  const add = () => {
    const known = needles.fields.map(({ id }) => id);
    const free = [...Array(13).keys()].find((n) => !known.includes(`needle-${n + 1}`)) ?? 13;
    needles.append({
      id: `needle-${free + 1}`,
      name: "",
      seat: "entrance",
      comes_out: false,
      at: "",
      holes: "0, 180",
      opening: false,
    });
  };
  return (
    <Stack spacing={1.5} sx={{ gridColumn: "1 / -1" }}>
      {needles.fields.map(({ key }, i) => (
        <Box
          key={key}
          sx={{ display: "grid", gap: 1, gridTemplateColumns: { xs: "1fr 1fr", md: "1.2fr 1fr 1.2fr 1fr auto" } }}
        >
          <Field<Draft> name={`needles.${i}.name`} also={[`needles.${i}.id`]} label="Needle" help="What you call it" />
          <Field<Draft> as="choice" name={`needles.${i}.seat`} label="Where" options={seats} />
          <Field<Draft>
            name={`needles.${i}.holes`}
            also={[`needles.${i}.holes_deg`]}
            label="Holes face"
            help="Degrees from the front, clockwise"
          />
          <Field<Draft> name={`needles.${i}.at`} label="Stands at" help="Empty: in the middle" />
          <Stack>
            <Field<Draft> as="tick" name={`needles.${i}.comes_out`} label="Comes out" />
            <Field<Draft> as="tick" name={`needles.${i}.opening`} label="Opening below" />
            <Button onClick={() => needles.remove(i)}>Take out</Button>
          </Stack>
        </Box>
      ))}
      <Box>
        <Button variant="outlined" onClick={add}>
          Another needle
        </Button>
      </Box>
    </Stack>
  );
}
