import { Box, Button, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { FormProvider, useFieldArray } from "react-hook-form";
import { type Schemas, send, useChange } from "../api/client";
import { newId } from "../api/newId";
import { queries } from "../api/queries";
import { Field, type Option } from "../ui/Field";
import { ErrorNotice, Loading } from "../ui/Notices";
import { Resumed } from "../ui/Resumed";
import { typed, typedOrNone } from "../ui/typed";
import { useUndo } from "../ui/Undo";
import { useSheet } from "../ui/useSheet";

type Agent = Schemas["Agent"];
/** With the field that only some forms have. */
type Sheet = Agent & { percent?: number | null };

const money = [
  ["amount", "Pack, mL or g"],
  ["price", "Price"],
  ["postage", "Postage"],
  ["coupon", "Coupon"],
  ["kit_worth", "Rest of the kit"],
] as const;

const noOffer = { source: "", amount: 0, price: 0, postage: 0, coupon: 0, kit_worth: 0 };

/** An agent: its strength, and where it is sold for how much. */
export function AgentLine({ agent }: { agent: Agent }) {
  const offerUndo = useUndo();
  const restore = useChange(send.restoreAgent);
  const remove = useChange(send.deleteAgent);
  const [open, setOpen] = useState(false);
  const sheet = useSheet<Sheet, unknown>({ key: `agent-${agent.id}`, first: agent, save: send.agent });
  const { form, submit, isSaving, error } = sheet;
  const offers = useFieldArray({ control: form.control, name: "offers" });
  return (
    <FormProvider {...form}>
      <Box sx={{ borderTop: 1, borderColor: "divider", pt: 1.5 }}>
        <Resumed sheet={sheet} />
        <Stack direction="row" sx={{ gap: 2, alignItems: "flex-start", flexWrap: "wrap" }}>
          <Typography sx={{ width: { sm: 270 }, pt: 1 }}>
            <strong>{agent.name}</strong>, {agent.acid.replaceAll("_", " ")} acid
          </Typography>
          {"percent" in agent && (
            <Field<Sheet> as="percent" name="percent" label="Strength on the label, %" sx={{ maxWidth: 190 }} />
          )}
          {agent.label_ph != null && (
            <Field<Sheet>
              as="number"
              name="label_ph"
              label="pH on the label"
              help="The strength is reckoned from it; empty it once you know"
              sx={{ maxWidth: 260 }}
            />
          )}
          <Button aria-expanded={open} onClick={() => setOpen(!open)}>
            {offers.fields.length === 0 ? "Prices" : `Prices (${offers.fields.length})`}
          </Button>
          <Button
            variant="contained"
            aria-label={`Save ${agent.name}`}
            disabled={!(form.formState.isDirty || sheet.isResumed) || isSaving}
            onClick={submit}
          >
            Save
          </Button>
          <Button
            color="inherit"
            aria-label={`Put ${agent.name} away`}
            onClick={() =>
              remove.mutate(agent.id, {
                onSuccess: () =>
                  offerUndo({ text: `${agent.name} was put away`, undo: () => restore.mutate(agent.id) }),
              })
            }
          >
            Put away
          </Button>
        </Stack>
        {open && (
          <Stack spacing={2} sx={{ pt: 2 }}>
            {offers.fields.map(({ id }, i) => (
              <Box
                key={id}
                sx={{ display: "grid", gap: 1, gridTemplateColumns: { xs: "1fr 1fr", md: "2fr repeat(5, 1fr) auto" } }}
              >
                <Field<Sheet> name={`offers.${i}.source`} label="Where it is sold" />
                {money.map(([name, label]) => (
                  <Field<Sheet> key={name} as="number" empty={0} name={`offers.${i}.${name}`} label={label} />
                ))}
                <Button color="inherit" onClick={() => offers.remove(i)}>
                  Remove
                </Button>
              </Box>
            ))}
            <Box>
              <Button onClick={() => offers.append(noOffer)}>Add a place that sells it</Button>
            </Box>
          </Stack>
        )}
        <ErrorNotice error={error} />
      </Box>
    </FormProvider>
  );
}

const blank = {
  name: "",
  form: "liquid" as Agent["form"],
  acid: "acetic" as Schemas["Acid"],
  percent: "",
  label_ph: "",
  bottle_ml: "",
  grams: "",
  water_ml: "",
};
type Typed = typeof blank;

function agentOf(id: string, { name, acid, form, ...numbers }: Typed): Agent {
  const base = { id, name, acid, offers: [], on_hand: null };
  const label_ph = typedOrNone(numbers.label_ph);
  // Where the label gives only a pH, the strength is reckoned from it.
  const percent = numbers.percent === "" && label_ph !== null ? 0 : typed(numbers.percent);
  switch (form) {
    case "powder":
      return { ...base, form };
    case "tablet":
      return { ...base, form, grams: typed(numbers.grams), water_ml: typed(numbers.water_ml) };
    case "bottle":
      return { ...base, form, percent, label_ph, bottle_ml: typed(numbers.bottle_ml) };
    default:
      return { ...base, form: "liquid", percent, label_ph };
  }
}

/** Another agent than the ones a household starts with: stronger vinegar, tablets, a bottle. */
export function NewAgent() {
  const [open, setOpen] = useState(false);
  if (open) return <AgentSheet close={() => setOpen(false)} />;
  return (
    <Box>
      <Button onClick={() => setOpen(true)}>Add an agent</Button>
    </Box>
  );
}

const optionsOf = (all: { id: string; words: string }[]) => all.map(({ id, words }): Option => [id, words]);

function AgentSheet({ close }: { close: () => void }) {
  const [id] = useState(newId);
  const sheet = useSheet({
    key: "agent-new",
    first: blank,
    save: (given: Typed) => send.addAgent(agentOf(id, given)),
    onSaved: close,
  });
  const { form, submit, isSaving, error } = sheet;
  const kind = form.watch("form");
  const choices = useQuery(queries.choices()).data;
  if (!choices) return <Loading />;
  return (
    <FormProvider {...form}>
      <Stack spacing={2} sx={{ borderTop: 1, borderColor: "divider", pt: 2 }}>
        <Resumed sheet={sheet} />
        <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr", lg: "repeat(5, 1fr)" } }}>
          <Field<Typed> name="name" label="Name of the agent" />
          <Field<Typed> as="choice" name="form" label="What it is" options={optionsOf(choices.forms)} />
          <Field<Typed> as="choice" name="acid" label="Its acid" options={optionsOf(choices.acids)} />
          {(kind === "liquid" || kind === "bottle") && (
            <Field<Typed> name="percent" label="Strength of the new one, %" />
          )}
          {(kind === "liquid" || kind === "bottle") && (
            <Field<Typed> name="label_ph" label="Or the pH on its label" help="Where no strength stands there" />
          )}
          {kind === "bottle" && <Field<Typed> name="bottle_ml" label="Bottle, mL" />}
          {kind === "tablet" && <Field<Typed> name="grams" label="Acid in one, g" />}
          {kind === "tablet" && <Field<Typed> name="water_ml" label="Water for one, mL" />}
        </Box>
        <ErrorNotice error={error} />
        <Stack direction="row" spacing={1}>
          <Button variant="contained" disabled={isSaving} onClick={submit}>
            Add this agent
          </Button>
          <Button color="inherit" onClick={close}>
            Leave it
          </Button>
        </Stack>
      </Stack>
    </FormProvider>
  );
}
