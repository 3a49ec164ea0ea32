import { Box, Button, MenuItem, Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { Refused, type Schemas, send, useChange } from "../api/client";
import { newId } from "../api/newId";
import { ErrorNotice } from "../ui/Notices";
import { typed, typedPercent } from "../ui/typed";
import { useUndo } from "../ui/Undo";

type Offer = Schemas["Offer"];
const money: [keyof Omit<Offer, "source">, string][] = [
  ["amount", "Pack, mL or g"],
  ["price", "Price"],
  ["postage", "Postage"],
  ["coupon", "Coupon"],
  ["kit_worth", "Rest of the kit"],
];

/** An agent: its strength, and where it is sold for how much. */
export function AgentLine({ agent }: { agent: Schemas["Agent"] }) {
  const save = useChange(send.agent);
  const offerUndo = useUndo();
  const restore = useChange(send.restoreAgent);
  const remove = useChange(send.deleteAgent);
  const [draft, setDraft] = useState(agent);
  const [open, setOpen] = useState(false);
  const fields = save.error instanceof Refused ? save.error.fields : {};
  const offers = draft.offers ?? [];
  const setOffer = (at: number, change: Partial<Offer>) =>
    setDraft({ ...draft, offers: offers.map((offer, i) => (i === at ? { ...offer, ...change } : offer)) });
  const changed = JSON.stringify(draft) !== JSON.stringify(agent);
  return (
    <Box sx={{ borderTop: 1, borderColor: "divider", pt: 1.5 }}>
      <Stack direction="row" sx={{ gap: 2, alignItems: "flex-start", flexWrap: "wrap" }}>
        <Typography sx={{ width: { sm: 270 }, pt: 1 }}>
          <strong>{agent.name}</strong>, {agent.acid.replaceAll("_", " ")} acid
        </Typography>
        {"percent" in agent && (
          <TextField
            label="Strength on the label, %"
            sx={{ maxWidth: 190 }}
            defaultValue={agent.percent}
            inputMode="decimal"
            error={"percent" in fields}
            helperText={fields.percent}
            onChange={(e) => setDraft({ ...draft, percent: typedPercent(e.target.value) } as Schemas["Agent"])}
          />
        )}
        <Button aria-expanded={open} onClick={() => setOpen(!open)}>
          {offers.length === 0 ? "Prices" : `Prices (${offers.length})`}
        </Button>
        <Button
          variant="contained"
          aria-label={`Save ${agent.name}`}
          disabled={!changed || save.isPending}
          onClick={() => save.mutate(draft)}
        >
          Save
        </Button>
        <Button
          color="inherit"
          aria-label={`Put ${agent.name} away`}
          onClick={() =>
            remove.mutate(agent.id, {
              onSuccess: () => offerUndo({ text: `${agent.name} was put away`, undo: () => restore.mutate(agent.id) }),
            })
          }
        >
          Put away
        </Button>
      </Stack>
      {open && (
        <Stack spacing={2} sx={{ pt: 2 }}>
          {offers.map((offer, i) => (
            <Box
              // biome-ignore lint/suspicious/noArrayIndexKey: offers have no identity but their place
              key={i}
              sx={{ display: "grid", gap: 1, gridTemplateColumns: { xs: "1fr 1fr", md: "2fr repeat(5, 1fr) auto" } }}
            >
              <TextField
                label="Where it is sold"
                value={offer.source}
                error={`offers.${i}.source` in fields}
                helperText={fields[`offers.${i}.source`]}
                onChange={(e) => setOffer(i, { source: e.target.value })}
              />
              {money.map(([name, label]) => (
                <TextField
                  key={name}
                  label={label}
                  defaultValue={offer[name] || ""}
                  inputMode="decimal"
                  error={`offers.${i}.${name}` in fields}
                  helperText={fields[`offers.${i}.${name}`]}
                  slotProps={{ inputLabel: { shrink: true } }}
                  onChange={(e) => setOffer(i, { [name]: e.target.value.trim() === "" ? 0 : typed(e.target.value) })}
                />
              ))}
              <Button
                color="inherit"
                onClick={() => setDraft({ ...draft, offers: offers.filter((_, other) => other !== i) })}
              >
                Remove
              </Button>
            </Box>
          ))}
          <Box>
            <Button
              onClick={() =>
                setDraft({
                  ...draft,
                  offers: [...offers, { source: "", amount: 0, price: 0, postage: 0, coupon: 0, kit_worth: 0 }],
                })
              }
            >
              Add a place that sells it
            </Button>
          </Box>
        </Stack>
      )}
      {Object.keys(fields).length === 0 && <ErrorNotice error={save.error} />}
    </Box>
  );
}

const forms: [Schemas["Agent"]["form"], string][] = [
  ["liquid", "Liquid, thinned by parts"],
  ["powder", "Powder, by weight"],
  ["bottle", "Bottle, used whole"],
  ["tablet", "Tablets"],
];
const acids: [Schemas["Acid"], string][] = [
  ["acetic", "acetic (vinegar)"],
  ["citric", "citric"],
  ["citric_monohydrate", "citric, with crystal water"],
  ["lactic", "lactic"],
  ["sulfamic", "sulfamic"],
];

/** Another agent than the ones a household starts with: stronger vinegar, tablets, a bottle. */
export function NewAgent() {
  const [open, setOpen] = useState(false);
  const [name, setName] = useState("");
  const [form, setForm] = useState<Schemas["Agent"]["form"]>("liquid");
  const [acid, setAcid] = useState<Schemas["Acid"]>("acetic");
  const [numbers, setNumbers] = useState<Record<string, string>>({});
  const add = useChange(send.addAgent);
  const fields = add.error instanceof Refused ? add.error.fields : {};
  const value = (key: string) => typed(numbers[key] ?? "");
  const agent = (): Schemas["Agent"] => {
    const base = { id: newId(), name, acid, offers: [], on_hand: null };
    if (form === "powder") return { ...base, form };
    if (form === "tablet") return { ...base, form, grams: value("grams"), water_ml: value("water_ml") };
    if (form === "bottle") return { ...base, form, percent: value("percent"), bottle_ml: value("bottle_ml") };
    return { ...base, form, percent: value("percent") };
  };
  const number = (key: string, label: string) => (
    <TextField
      label={label}
      inputMode="decimal"
      value={numbers[key] ?? ""}
      error={key in fields}
      helperText={fields[key]}
      onChange={(e) => setNumbers({ ...numbers, [key]: e.target.value })}
    />
  );
  if (!open) {
    return (
      <Box>
        <Button onClick={() => setOpen(true)}>Add an agent</Button>
      </Box>
    );
  }
  return (
    <Stack spacing={2} sx={{ borderTop: 1, borderColor: "divider", pt: 2 }}>
      <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr", lg: "repeat(5, 1fr)" } }}>
        <TextField
          label="Name of the agent"
          value={name}
          error={"name" in fields}
          helperText={fields.name}
          onChange={(e) => setName(e.target.value)}
        />
        <TextField
          select
          label="What it is"
          value={form}
          onChange={(e) => setForm(e.target.value as Schemas["Agent"]["form"])}
        >
          {forms.map(([id, words]) => (
            <MenuItem key={id} value={id}>
              {words}
            </MenuItem>
          ))}
        </TextField>
        <TextField select label="Its acid" value={acid} onChange={(e) => setAcid(e.target.value as Schemas["Acid"])}>
          {acids.map(([id, words]) => (
            <MenuItem key={id} value={id}>
              {words}
            </MenuItem>
          ))}
        </TextField>
        {(form === "liquid" || form === "bottle") && number("percent", "Strength of the new one, %")}
        {form === "bottle" && number("bottle_ml", "Bottle, mL")}
        {form === "tablet" && number("grams", "Acid in one, g")}
        {form === "tablet" && number("water_ml", "Water for one, mL")}
      </Box>
      {!["name", "percent", "bottle_ml", "grams", "water_ml"].some((field) => field in fields) && (
        <ErrorNotice error={add.error} />
      )}
      <Stack direction="row" spacing={1}>
        <Button
          variant="contained"
          disabled={add.isPending}
          onClick={() => add.mutate(agent(), { onSuccess: () => setOpen(false) })}
        >
          Add this agent
        </Button>
        <Button color="inherit" onClick={() => setOpen(false)}>
          Leave it
        </Button>
      </Stack>
    </Stack>
  );
}
