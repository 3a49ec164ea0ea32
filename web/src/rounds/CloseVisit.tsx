import { Button, IconButton, Paper, Stack, Typography } from "@mui/material";
import { useState } from "react";
import { FormProvider, useFieldArray } from "react-hook-form";
import { type Schemas, send } from "../api/client";
import { newId } from "../api/newId";
import { Field } from "../ui/Field";
import { ErrorNotice } from "../ui/Notices";
import { Resumed } from "../ui/Resumed";
import { useSheet } from "../ui/useSheet";
import { LeftBehind, nothingSaid, type Said } from "./LeftBehind";

/** The bill stands where the answer names it; what is said of what is not done, by its id. */
type Closed = { what: { bill: Schemas["Bill"] }; said: Record<string, Said> };

/** What a closed visit came to. */
export function Worth({ worth }: { worth: Schemas["WorthView"] }) {
  return (
    <Paper component="section" aria-label="Price" sx={{ p: 2 }}>
      <Typography variant="h2">{worth.bill.is_gift ? "A gift" : `Price: ${worth.total_text}`}</Typography>
      {worth.lines.map((line) => (
        <Typography key={line} sx={{ textDecoration: worth.bill.is_gift ? "line-through" : "none" }}>
          {line}
        </Typography>
      ))}
    </Paper>
  );
}

/** Closed without a line: what is not done is named; what it is worth is worked out when the household hears of it. */
export function CloseAlone({
  view: { stops, run },
  isWaiting,
  close,
  goTo,
}: {
  view: Schemas["VisitView"];
  isWaiting: (id: string) => boolean;
  close: (left: Schemas["LeftStop"][]) => void;
  goTo: (id: string) => void;
}) {
  const [all, setAll] = useState<Record<string, Said>>({});
  const inside = run?.inside ?? [];
  const open = stops.filter((stop) => !stop.is_over && !stop.is_left && !isWaiting(stop.id));
  const said = (id: string) => all[id] ?? nothingSaid;
  const isMeant = inside.every((one) => said(one.id).inside);
  return (
    <Paper component="section" aria-label="Close without a line" sx={{ p: 2 }}>
      <Typography variant="h2">Close the visit</Typography>
      <Typography sx={{ my: 1 }}>
        There is no line to the household. The price is made of what was done until now; look at it when the line is
        back, and open the visit again to change it.
      </Typography>
      <LeftBehind
        stops={open}
        inside={inside}
        said={said}
        say={(id, one) => setAll({ ...all, [id]: one })}
        goTo={goTo}
      />
      {!isMeant && <Typography>First say of each that is not rinsed what becomes of it.</Typography>}
      <Button
        variant="contained"
        size="large"
        sx={{ mt: 1 }}
        disabled={!isMeant}
        onClick={() => close(leftOf(open, inside, said))}
      >
        Close the visit
      </Button>
    </Paper>
  );
}

/** What is named as not done. */
function leftOf(
  open: Schemas["StopView"][],
  inside: Schemas["UnrinsedView"][],
  said: (id: string) => Said,
): Schemas["LeftStop"][] {
  return open.map(({ id }) => {
    const one = said(id);
    return { id, day: one.day || null, inside: one.inside && inside.some((other) => other.id === id) };
  });
}

/** What a visit took and is worth: suggested lines that one edits, or a gift. */
export function CloseVisit({
  view: { visit, stops, run },
  worth,
  closed,
  goTo,
}: {
  view: Schemas["VisitView"];
  worth: Schemas["WorthView"];
  closed: () => void;
  goTo: (id: string) => void;
}) {
  const open = stops.filter((stop) => !stop.is_over && !stop.is_left);
  const said = (all: Record<string, Said>, id: string) => all[id] ?? nothingSaid;
  const sheet = useSheet<Closed, Schemas["VisitView"]>({
    key: `bill-${visit.id}`,
    first: { what: { bill: worth.bill }, said: {} },
    save: (typed) =>
      send.visitAct(visit.id, {
        id: newId(),
        what: {
          kind: "closed",
          bill: typed.what.bill,
          left: leftOf(open, run?.inside ?? [], (id) => said(typed.said, id)),
        },
      }),
    onSaved: closed,
  });
  const all = sheet.form.watch("said");
  const lines = useFieldArray({ control: sheet.form.control, name: "what.bill.lines" });
  return (
    <FormProvider {...sheet.form}>
      <Paper component="form" onSubmit={sheet.submit} aria-label="Price" sx={{ p: 2 }}>
        <Typography variant="h2">Close the visit</Typography>
        <Typography sx={{ my: 1 }}>{worth.text}.</Typography>
        <Resumed sheet={sheet} />
        <LeftBehind
          stops={open}
          inside={run?.inside ?? []}
          said={(id) => said(all, id)}
          say={(id, one) => sheet.form.setValue("said", { ...all, [id]: one })}
          goTo={goTo}
        />
        {lines.fields.length === 0 && (
          <Typography color="textSecondary">
            Nothing is charged by itself. Say under Household what an hour of your work is worth, or add a line.
          </Typography>
        )}
        <Stack spacing={1.5} sx={{ my: 1 }}>
          {lines.fields.map(({ id }, n) => (
            <Stack key={id} direction="row" spacing={1} sx={{ alignItems: "flex-start" }}>
              <Field<Closed> name={`what.bill.lines.${n}.what`} label={`Line ${n + 1}`} />
              <Field<Closed>
                as="number"
                name={`what.bill.lines.${n}.amount`}
                label={`Amount of line ${n + 1}${worth.currency ? `, ${worth.currency}` : ""}`}
                sx={{ width: { xs: 96, sm: 200 }, flexShrink: 0 }}
              />
              <IconButton
                aria-label={`Take line ${n + 1} out`}
                sx={{ width: 44, height: 44 }}
                onClick={() => lines.remove(n)}
              >
                ×
              </IconButton>
            </Stack>
          ))}
          <Button
            variant="outlined"
            sx={{ alignSelf: "flex-start" }}
            onClick={() => lines.append({ what: "", amount: 0 })}
          >
            Add a line
          </Button>
          <Field<Closed> as="tick" name="what.bill.is_gift" label="It is a gift" />
        </Stack>
        <ErrorNotice error={sheet.error} />
        <Button type="submit" variant="contained" size="large" disabled={sheet.isSaving}>
          Close the visit
        </Button>
      </Paper>
    </FormProvider>
  );
}
