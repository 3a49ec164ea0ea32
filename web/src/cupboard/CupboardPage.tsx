import { Button, Paper, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { queries } from "../api/queries";
import { Cards } from "../ui/Cards";
import { Page, Ready } from "../ui/Notices";
import { AgentLine, NewAgent } from "./Agents";
import { NewSupply } from "./NewSupply";
import { ShoppingList } from "./ShoppingList";
import { Thing } from "./Thing";
import { Years } from "./Years";

/** What is in the cupboard, how long it lasts, and what to buy. */
export function CupboardPage() {
  const household = useQuery(queries.household());
  const [prices, setPrices] = useState(false);
  return (
    <Page title="Cupboard">
      <Ready query={useQuery(queries.cupboard())}>
        {({ things, list, years }) => (
          <Stack spacing={2}>
            <ShoppingList list={list} counted={things.some((thing) => thing.level != null)} />
            <Cards>
              {things.map((thing) => (
                <Thing key={thing.id} thing={thing} agent={agentOf(household.data?.agents ?? [], thing.id)} />
              ))}
            </Cards>
            <NewSupply />
            {years.length > 0 && <Years years={years} />}
            <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap" }}>
              <Button variant="outlined" href="/api/cupboard.csv" download="murlo-cupboard.csv">
                Movements as a table
              </Button>
              <Button variant="outlined" href="/api/works.csv" download="murlo-works.csv">
                Small works as a table
              </Button>
            </Stack>
            <Paper component="section" aria-labelledby="prices" sx={{ p: 2 }}>
              <Stack direction="row" sx={{ justifyContent: "space-between", alignItems: "center" }}>
                <Typography variant="h3" component="h2" id="prices">
                  Agents: strengths and prices
                </Typography>
                <Button aria-expanded={prices} onClick={() => setPrices(!prices)}>
                  {prices ? "Fold" : "Change them"}
                </Button>
              </Stack>
              {prices && (
                <Stack spacing={2} sx={{ pt: 1 }}>
                  {household.data?.agents.map((agent) => (
                    <AgentLine key={JSON.stringify(agent)} agent={agent} />
                  ))}
                  <NewAgent />
                </Stack>
              )}
            </Paper>
          </Stack>
        )}
      </Ready>
    </Page>
  );
}

const agentOf = (agents: Schemas["Agent"][], id: string) => agents.find((agent) => agent.id === id);
