import { Box, Button, Paper, Stack } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { FormProvider } from "react-hook-form";
import { type Schemas, send } from "../api/client";
import { newId } from "../api/newId";
import { queries } from "../api/queries";
import { Field, type Option } from "../ui/Field";
import { ErrorNotice, Loading } from "../ui/Notices";
import { Resumed } from "../ui/Resumed";
import { typed } from "../ui/typed";
import { useSheet } from "../ui/useSheet";

/** As it is typed; the price of a pack may be left out. */
const blank = { kind: "filter" as Schemas["SupplyKind"], name: "Water filters", source: "", amount: "", price: "" };
type Typed = typeof blank;

/** Something that is counted by the piece: filters by their height or shape, rinse pods, clips, stain remover. */
export function NewSupply() {
  const [open, setOpen] = useState(false);
  if (open) return <Sheet close={() => setOpen(false)} />;
  return (
    <Box>
      <Button variant="outlined" onClick={() => setOpen(true)}>
        Add filters, rinse pods or another thing
      </Button>
    </Box>
  );
}

function Sheet({ close }: { close: () => void }) {
  const [id] = useState(newId);
  const sheet = useSheet({
    key: "supply-new",
    first: blank,
    save: ({ kind, name, source, amount, price }: Typed) => {
      const isPriced = [source, amount, price].some((text) => text.trim() !== "");
      const offer = { source, amount: typed(amount), price: typed(price) } as Schemas["Offer"];
      return send.supply({ id, name, kind, offers: isPriced ? [offer] : [] });
    },
    onSaved: close,
  });
  const { form, submit, isSaving, error } = sheet;
  const kinds = useQuery(queries.choices()).data?.supplies;
  if (!kinds) return <Loading />;
  const rename = (kind: unknown) => {
    const isOwn = kinds.every((one) => one.usual_name !== form.getValues("name"));
    if (!isOwn) form.setValue("name", kinds.find((one) => one.id === kind)?.usual_name ?? "");
  };
  return (
    <FormProvider {...form}>
      <Paper component="section" aria-label="Add a thing" sx={{ p: 2 }}>
        <Stack spacing={2}>
          <Resumed sheet={sheet} />
          <Box
            sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr", lg: "repeat(5, 1fr)" } }}
          >
            <Field<Typed>
              as="choice"
              name="kind"
              label="What it is for"
              options={kinds.map(({ id, words }): Option => [id, words])}
              onChosen={rename}
            />
            <Field<Typed> name="name" label="Its name" />
            <Field<Typed> name="source" also={["offers.0.source"]} label="Where it is sold" />
            <Field<Typed> name="amount" also={["offers.0.amount"]} label="Pieces in a pack" />
            <Field<Typed> name="price" also={["offers.0.price"]} label="Price of a pack" />
          </Box>
          <ErrorNotice error={error} />
          <Stack direction="row" spacing={1}>
            <Button variant="contained" disabled={isSaving} onClick={submit}>
              Add it
            </Button>
            <Button color="inherit" onClick={close}>
              Leave it
            </Button>
          </Stack>
        </Stack>
      </Paper>
    </FormProvider>
  );
}
