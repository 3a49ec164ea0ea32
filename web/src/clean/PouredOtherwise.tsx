import { Button, MenuItem, Paper, Stack, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { queries } from "../api/queries";

/** More, less, another agent: what is in is told in the words in which it was measured, and the rest goes by it. */
export function PouredOtherwise({ clean, act }: { clean: Schemas["CleanView"]; act: (what: Schemas["Act"]) => void }) {
  const [open, setOpen] = useState(false);
  if (!open) {
    return (
      <Button variant="outlined" sx={{ minHeight: 48, alignSelf: "start" }} onClick={() => setOpen(true)}>
        Poured otherwise
      </Button>
    );
  }
  return <Told clean={clean} act={act} close={() => setOpen(false)} />;
}

function Told({
  clean,
  act,
  close,
}: {
  clean: Schemas["CleanView"];
  act: (what: Schemas["Act"]) => void;
  close: () => void;
}) {
  const { chosen, bath } = clean.plan;
  const agents = useQuery(queries.household()).data?.agents ?? [];
  const [agent, setAgent] = useState(chosen.agent_id);
  const [amount, setAmount] = useState(bath.powder_g == null ? bath.agent_text : `${bath.powder_g} g`);
  const [water, setWater] = useState(bath.water.ml > 1 ? bath.water.text : "");
  return (
    <Paper component="section" aria-label="Poured otherwise" sx={{ p: 2 }}>
      <Stack spacing={1.5}>
        <Typography>What is in? Soak, dispenses and rinse are reckoned from that.</Typography>
        <TextField
          select
          label="Agent"
          value={agents.some(({ id }) => id === agent) ? agent : ""}
          onChange={(e) => setAgent(e.target.value)}
        >
          {agents.map(({ id, name }) => (
            <MenuItem key={id} value={id}>
              {name}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          label="How much of it"
          helperText="Such as 3 cups; of a powder in grams, of tablets how many"
          value={amount}
          onChange={(e) => setAmount(e.target.value)}
        />
        <TextField
          label="How much water"
          helperText="Nothing, where it was poured neat"
          value={water}
          onChange={(e) => setWater(e.target.value)}
        />
        <Stack direction="row" spacing={1}>
          <Button
            variant="contained"
            sx={{ minHeight: 48 }}
            onClick={() => {
              act({ kind: "planned", wish: { kind: "poured", so: { agent_id: agent, amount, water } } });
              close();
            }}
          >
            That is what is in
          </Button>
          <Button sx={{ minHeight: 48 }} onClick={close}>
            As planned after all
          </Button>
        </Stack>
      </Stack>
    </Paper>
  );
}
