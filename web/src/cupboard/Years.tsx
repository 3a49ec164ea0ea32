import { Box, Button, Paper, Stack, Typography } from "@mui/material";
import { useState } from "react";
import type { Schemas } from "../api/client";

/** What cleaning came to: the latest year, the others on request, each by home and brewer. */
export function Years({ years }: { years: Schemas["YearSum"][] }) {
  const [all, setAll] = useState(false);
  return (
    <Paper component="section" aria-labelledby="years" sx={{ p: 2 }}>
      <Stack direction="row" sx={{ justifyContent: "space-between", alignItems: "center" }}>
        <Typography variant="h3" component="h2" id="years">
          What cleaning came to
        </Typography>
        {years.length > 1 && (
          <Button aria-expanded={all} onClick={() => setAll(!all)}>
            {all ? "Fold" : "Earlier years"}
          </Button>
        )}
      </Stack>
      {(all ? years : years.slice(0, 1)).map((year) => (
        <Box key={year.year} sx={{ pt: 1 }}>
          <Typography sx={{ fontWeight: 700 }}>{year.text}</Typography>
          <Box sx={{ display: "grid", columnGap: 4, gridTemplateColumns: { xs: "1fr", md: "1fr 1fr" } }}>
            <Sums name="By home" sums={year.homes} />
            <Sums name="By brewer" sums={year.brewers} />
          </Box>
        </Box>
      ))}
      <Typography variant="body2" color="textSecondary" sx={{ pt: 1 }}>
        As each clean was planned, with the prices known then; cleans told afterwards cost nothing here.
      </Typography>
    </Paper>
  );
}

function Sums({ name, sums }: { name: string; sums: Schemas["NamedSum"][] }) {
  if (sums.length === 0) return null;
  return (
    <Box>
      <Typography variant="body2" color="textSecondary">
        {name}
      </Typography>
      <Box component="ul" sx={{ m: 0, p: 0, listStyle: "none" }}>
        {sums.map((sum) => (
          <Typography component="li" key={sum.name}>
            {sum.name}: {sum.text}
          </Typography>
        ))}
      </Box>
    </Box>
  );
}
