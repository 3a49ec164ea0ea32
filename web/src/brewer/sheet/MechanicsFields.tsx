import { Box, Button, Stack } from "@mui/material";
import { useFieldArray, useWatch } from "react-hook-form";
import type { Schemas } from "../../api/client";
import { Field, type Option, yesOrNo } from "../../ui/Field";
import { useHints } from "../../ui/useHints";

type Draft = Schemas["BrewerDraft"];

const survives: Option[] = [
  [null, "Don’t know"],
  ["nothing", "Nothing: it ends by itself when left"],
  ["waiting", "Being left alone, switched on"],
  ["switched_off", "Also being switched off"],
  ["unplugged", "Also the plug being pulled"],
];

const ends: Option[] = [
  [null, "Don’t know"],
  ["light", "The descaling light going out"],
  ["wants_water", "“Wants water” after the rinse fill"],
  ["one_fill", "Exactly one fill of rinse water"],
];

/** What a side of a brewer does by itself. The plan takes the safe way wherever nobody knows. */
export function MechanicsFields({
  within,
  pressed,
}: {
  within: "mechanics" | "other_side.mechanics";
  pressed: boolean;
}) {
  const hints = useHints();
  const facts = useWatch<Draft>({ name: within }) as Schemas["Mechanics"] | null | undefined;
  const marks = useFieldArray<Draft, `${typeof within}.marks`>({ name: `${within}.marks` });
  const fact = (name: "programme" | "needs_light" | "mode" | "soaks_inside" | "float" | "shows_time") =>
    ({ as: "choice", name: `${within}.${name}`, options: yesOrNo }) as const;
  return (
    <>
      <Field<Draft> {...fact("programme")} label="Cleans by a programme" help="It runs all of the bath by itself" />
      {facts?.programme !== false && (
        <Field<Draft>
          {...fact("needs_light")}
          label="Only while its light asks"
          help="The programme starts only then"
        />
      )}
      {pressed && (
        <Field<Draft> {...fact("mode")} label="Has a cleaning mode" help="Pressed cup by cup, with lights of its own" />
      )}
      {pressed && facts?.mode !== false && (
        <>
          <Field<Draft> as="choice" name={`${within}.survives`} label="The mode outlasts" options={survives} />
          <Field<Draft>
            {...fact("soaks_inside")}
            label="Can soak in the mode"
            help="It stays on while the bath stands"
          />
          <Field<Draft> as="choice" name={`${within}.ends`} label="The mode ends with" options={ends} />
        </>
      )}
      <Field<Draft> {...fact("float")} label="Float in the tank" help="Lowered to the bottom before the bath" />
      <Field<Draft> {...fact("shows_time")} label="Shows the time left" help="On its display, while it cleans" />
      <Field<Draft>
        as="list"
        name={`${within}.sizes`}
        label="Sizes on its buttons"
        help={`As printed: ${hints.sizes}`}
      />
      <Box sx={{ gridColumn: "1 / -1" }}>
        <Stack spacing={1}>
          {marks.fields.map(({ id }, i) => (
            <Stack key={id} direction={{ xs: "column", sm: "row" }} spacing={1}>
              <Field<Draft>
                name={`${within}.marks.${i}.name`}
                label={`Mark ${i + 1}`}
                help="As printed: the agent can be poured to it by that name"
              />
              <Field<Draft> as="number" name={`${within}.marks.${i}.ml`} label={`Up to mark ${i + 1}, mL`} />
              <Button sx={{ flexShrink: 0 }} onClick={() => marks.remove(i)}>
                Take out
              </Button>
            </Stack>
          ))}
          <Box>
            <Button variant="outlined" onClick={() => marks.append({ name: "", ml: "" as unknown as number })}>
              A mark with a name
            </Button>
          </Box>
        </Stack>
      </Box>
    </>
  );
}
