import { Box } from "@mui/material";
import { useFormContext } from "react-hook-form";
import type { Schemas } from "../../api/client";
import { DiscFinder } from "../../pictures/DiscFinder";
import { Field, type Option } from "../../ui/Field";

type Draft = Schemas["BrewerDraft"];

const readers: Option[] = [
  [null, "not looked yet"],
  ["beside_slot", "beside the slot for the disc's grip"],
  ["right_angle", "at a right angle to that slot"],
];

/** Where guide, disc and adapter are kept, and how the disc goes in. */
export function PlaceFields() {
  const { watch } = useFormContext<Draft>();
  const [family, reader] = watch(["family", "reader"]);
  const help = "Where it is kept";
  return (
    <>
      <Field<Draft> name="places.guide" label="The maker's guide" help={help} />
      {family === "coded_capsule" && (
        <>
          <Field<Draft> name="places.disc" label="The service disc" help={help} />
          <Field<Draft>
            as="choice"
            name="reader"
            label="Reader window lies"
            help="Lift the capsule tray to see it; the disc's code lies likewise"
            options={readers}
          />
          <Box sx={{ gridColumn: "1 / -1" }}>
            <DiscFinder reader={reader ?? null} size={120} />
          </Box>
        </>
      )}
      {family === "combination" && <Field<Draft> name="places.adapter" label="The pod adapter" help={help} />}
    </>
  );
}
