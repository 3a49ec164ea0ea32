import { Box } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useFormContext } from "react-hook-form";
import type { Schemas } from "../../api/client";
import { queries } from "../../api/queries";
import { DiscFinder } from "../../pictures/DiscFinder";
import { Field, type Option } from "../../ui/Field";

type Draft = Schemas["BrewerDraft"];

/** Where guide, disc and adapter are kept, and how the disc goes in. */
export function PlaceFields() {
  const { watch } = useFormContext<Draft>();
  const [family, reader] = watch(["family", "reader"]);
  const families = useQuery(queries.families()).data;
  const choices = useQuery(queries.choices()).data;
  const kind = families?.find((one) => one.family === family);
  const readers: Option[] = [
    [null, "not looked yet"],
    ...(choices?.readers ?? []).map(({ id, words }): Option => [id, words]),
  ];
  const help = "Where it is kept";
  return (
    <>
      <Field<Draft> name="places.guide" label="The maker's guide" help={help} />
      {kind?.has_disc && choices && (
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
      {kind?.has_adapter && <Field<Draft> name="places.adapter" label="The pod adapter" help={help} />}
    </>
  );
}
