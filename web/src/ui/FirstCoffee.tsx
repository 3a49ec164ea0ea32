import { Button, Stack } from "@mui/material";
import type { Schemas } from "../api/client";
import { useEntries } from "../brewer/Journal";
import { ErrorNotice } from "./Notices";

const tastes = [
  ["fine", "Fine", "First coffee: fine"],
  ["sour", "Sour", "First coffee: sour. That agent is rinsed out longer here from now on"],
  ["flat", "Flat", "First coffee: flat. That is old oil rather than chalk: a clean for dirt helps"],
] as const;

/** How the first coffee after a clean tasted, by one touch: it corrects how often that side is rinsed after that agent. */
export function FirstCoffee({
  brewer,
  coffee,
  today,
}: {
  brewer: string;
  coffee: Schemas["CoffeeAsked"];
  today: string;
}) {
  const entries = useEntries(brewer);
  const tell = (taste: Schemas["FirstTaste"], words: string) =>
    entries.add(
      today,
      { kind: "first_coffee", circuit_id: coffee.circuit_id, clean_id: coffee.clean_id, taste },
      words,
    );
  return (
    <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap", alignItems: "center" }}>
      {tastes.map(([taste, words, told]) => (
        <Button
          key={taste}
          variant="outlined"
          disabled={entries.pending}
          sx={{ minHeight: 48 }}
          onClick={() => tell(taste, told)}
        >
          {words}
        </Button>
      ))}
      <ErrorNotice error={entries.error} />
    </Stack>
  );
}
