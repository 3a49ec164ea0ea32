import { Box, Button, MenuItem, Paper, Stack, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { queries } from "../api/queries";
import { Choice } from "../first/Choice";
import { HowFull } from "../pictures/HowFull";
import { Touches } from "../ui/Touches";

const levels = [
  [1, "To the top"],
  [0.75, "Three quarters"],
  [0.5, "Half"],
] as const;

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
  const [seen, setSeen] = useState(false);
  const [level, setLevel] = useState<number | null>(null);
  const [recipe, setRecipe] = useState("unknown");
  // How another agent was thinned, nobody has said.
  const recipes = agent === chosen.agent_id ? chosen.recipes : [];
  const by_eye =
    seen && level !== null ? { level, recipe: recipes.find((one) => one.label === recipe)?.recipe ?? null } : null;
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
        <Touches
          title="How do you know?"
          choices={[
            ["measured", "It was measured"],
            ["seen", "By eye"],
          ]}
          chosen={[seen ? "seen" : "measured"]}
          onTouch={(how) => setSeen(how === "seen")}
        />
        {seen && (
          <>
            <Box sx={{ display: "grid", gap: 1, gridTemplateColumns: "repeat(3, 1fr)", maxWidth: 420 }}>
              {levels.map(([share, words]) => (
                <Choice key={share} label={words} chosen={level === share} onChoose={() => setLevel(share)}>
                  <HowFull share={share} />
                </Choice>
              ))}
            </Box>
            {recipes.length > 1 && (
              <Touches
                title="How was it thinned?"
                choices={[
                  ...recipes.map((one) => [one.label, one.label] as const),
                  ["unknown", "I do not know"] as const,
                ]}
                chosen={[recipe]}
                onTouch={setRecipe}
              />
            )}
          </>
        )}
        {!seen && (
          <>
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
          </>
        )}
        <Stack direction="row" spacing={1}>
          <Button
            variant="contained"
            sx={{ minHeight: 48 }}
            disabled={seen && level === null}
            onClick={() => {
              const so = seen ? { agent_id: agent, amount: "", water: "" } : { agent_id: agent, amount, water };
              act({ kind: "planned", wish: { kind: "poured", so, by_eye } });
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
