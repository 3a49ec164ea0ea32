import type { Schemas } from "../../api/client";
import { Field } from "../../ui/Field";

type Draft = Schemas["BrewerDraft"];

/** The pod side of a combination. */
export function PodSideFields() {
  return (
    <>
      <Field<Draft> name="other_side.dispense" label="Pod side: largest cup" help="One press of the largest size" />
      <Field<Draft>
        name="other_side.hold_up"
        label="Pod side: stays in heater and tubes"
        help="Keep the usual figure if you do not know"
      />
      <Field<Draft>
        name="other_side.dead_volume"
        label="Pod side: left in the reservoir"
        help="What is left when it asks for water"
      />
      <Field<Draft>
        name="other_side.reservoir"
        label="Pod side: own reservoir"
        help="Leave empty if both sides share one"
      />
      <Field<Draft>
        as="percent"
        name="other_side.share"
        label="Pod side: share of the cups, %"
        help="The rest goes through the carafe side"
      />
    </>
  );
}
