import { Stack } from "@mui/material";
import type { Schemas } from "../../api/client";
import { Field } from "../../ui/Field";

type Draft = Schemas["BrewerDraft"];

/** What its descaling goes by. */
export function PolicyFields() {
  return (
    <>
      <Stack>
        <Field<Draft> as="tick" name="policy.chalk" label="When the computed chalk reaches the limit" />
        <Field<Draft> as="tick" name="policy.light" label="When its own light asks" />
        <Field<Draft> as="tick" name="light_counts" label="Its light only counts water: learn nothing from it" />
      </Stack>
      <Field<Draft>
        as="number"
        name="policy.days"
        label="At least every so many days"
        help="Leave empty for no such rule; half a year always holds"
      />
      <Field<Draft>
        as="number"
        name="policy.brews"
        label="At least every so many brews"
        help="Leave empty for no such rule"
      />
    </>
  );
}
