import { Box, Button, MenuItem, Paper, Stack, TextField } from "@mui/material";
import { useState } from "react";
import { Refused, type Schemas, send, useChange } from "../api/client";
import { newId } from "../api/newId";
import { ErrorNotice } from "../ui/Notices";
import { typed } from "../ui/typed";

const kinds: [Schemas["SupplyKind"], string][] = [
  ["filter", "Water filters"],
  ["rinse_pod", "Rinse pods"],
  ["other", "Something else"],
];

/** Something that is counted by the piece: filters by their height or shape, rinse pods, stain remover, clips. */
export function NewSupply() {
  const [open, setOpen] = useState(false);
  const [id, setId] = useState(newId);
  const [kind, setKind] = useState<Schemas["SupplyKind"]>("filter");
  const [name, setName] = useState("Water filters");
  const [offer, setOffer] = useState({ source: "", amount: "", price: "" });
  const put = useChange(send.supply);
  const fields = put.error instanceof Refused ? put.error.fields : {};
  const isPriced = Object.values(offer).some((text) => text.trim() !== "");
  const offers = isPriced
    ? [{ source: offer.source, amount: typed(offer.amount), price: typed(offer.price) } as Schemas["Offer"]]
    : [];
  if (!open) {
    return (
      <Box>
        <Button variant="outlined" onClick={() => setOpen(true)}>
          Add filters, rinse pods or another thing
        </Button>
      </Box>
    );
  }
  const field = (key: keyof typeof offer, label: string) => (
    <TextField
      label={label}
      value={offer[key]}
      error={`offers.0.${key}` in fields}
      helperText={fields[`offers.0.${key}`]}
      onChange={(e) => setOffer({ ...offer, [key]: e.target.value })}
    />
  );
  return (
    <Paper component="section" aria-label="Add a thing" sx={{ p: 2 }}>
      <Stack spacing={2}>
        <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr", lg: "repeat(5, 1fr)" } }}>
          <TextField
            select
            label="What it is for"
            value={kind}
            onChange={(e) => {
              const next = e.target.value as Schemas["SupplyKind"];
              setKind(next);
              if (kinds.some(([, words]) => words === name)) {
                setName(next === "other" ? "" : (kinds.find(([k]) => k === next)?.[1] ?? ""));
              }
            }}
          >
            {kinds.map(([value, words]) => (
              <MenuItem key={value} value={value}>
                {words}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            label="Its name"
            value={name}
            error={"name" in fields}
            helperText={fields.name}
            onChange={(e) => setName(e.target.value)}
          />
          {field("source", "Where it is sold")}
          {field("amount", "Pieces in a pack")}
          {field("price", "Price of a pack")}
        </Box>
        {Object.keys(fields).length === 0 && <ErrorNotice error={put.error} />}
        <Stack direction="row" spacing={1}>
          <Button
            variant="contained"
            disabled={put.isPending}
            onClick={() =>
              put.mutate(
                { id, name, kind, offers },
                {
                  onSuccess: () => {
                    setOpen(false);
                    setId(newId());
                  },
                },
              )
            }
          >
            Add it
          </Button>
          <Button color="inherit" onClick={() => setOpen(false)}>
            Leave it
          </Button>
        </Stack>
      </Stack>
    </Paper>
  );
}
