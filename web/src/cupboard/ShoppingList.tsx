import { Box, Button, Checkbox, FormControlLabel, Paper, Stack, Typography } from "@mui/material";
import { useState } from "react";
import { CopyButton } from "../ui/CopyButton";

/** What to buy, to be ticked in the shop, printed, or copied as text. */
export function ShoppingList({ list, counted }: { list: string[]; counted: boolean }) {
  const [ticked, setTicked] = useState<string[]>([]);
  if (list.length === 0) {
    return (
      <Paper component="section" aria-label="To buy" sx={{ p: 2 }}>
        <Typography variant="h2">Nothing to buy</Typography>
        <Typography>
          {counted
            ? "What was counted lasts for the next three months, as far as can be foreseen."
            : "Count what is there once: cleans and small works draw from it by themselves afterwards."}
        </Typography>
      </Paper>
    );
  }
  return (
    <Paper component="section" aria-label="To buy" sx={{ p: 2 }}>
      <Stack direction="row" sx={{ justifyContent: "space-between", alignItems: "center", flexWrap: "wrap" }}>
        <Typography variant="h2">To buy</Typography>
        <Stack direction="row" spacing={1} className="screen-only">
          <CopyButton label="Copy as text" text={list.join("\n")} />
          <Button variant="outlined" onClick={() => window.print()}>
            Print
          </Button>
        </Stack>
      </Stack>
      <Box component="ul" sx={{ listStyle: "none", p: 0, m: 0 }}>
        {list.map((line) => (
          <li key={line}>
            <FormControlLabel
              sx={{ minHeight: 44 }}
              control={
                <Checkbox
                  checked={ticked.includes(line)}
                  onChange={(e) =>
                    setTicked(e.target.checked ? [...ticked, line] : ticked.filter((other) => other !== line))
                  }
                />
              }
              label={line}
            />
          </li>
        ))}
      </Box>
    </Paper>
  );
}
