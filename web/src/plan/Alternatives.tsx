import { Box, ButtonBase, Paper, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { queries } from "../api/queries";
import { Bore } from "../pictures/Bore";
import { RibbonLine } from "../pictures/RibbonLine";
import { Ready } from "../ui/Notices";

type Alternative = Schemas["Alternative"];

/** Every agent and recipe for the same clean as ribbons on one time scale; a touch takes one. */
export function Alternatives({
  id,
  chosen,
  wishes,
  onTake,
}: {
  id: string;
  chosen: Schemas["Chosen"];
  wishes: Schemas["PlanOptions"];
  onTake: (bath: Alternative) => void;
}) {
  const isChosen = (bath: Alternative) =>
    bath.agent_id === chosen.agent_id && JSON.stringify(bath.recipe) === JSON.stringify(chosen.recipe);
  return (
    <Paper component="section" aria-label="Other ways" sx={{ p: 2 }}>
      <Typography variant="h2" gutterBottom>
        Other ways, on one time scale
      </Typography>
      <Ready query={useQuery(queries.baths(id, wishes))}>
        {({ alternatives, because, buy }) => {
          const longest = Math.max(...alternatives.map((bath) => bath.ribbon.elapsed_min));
          return (
            <>
              <Typography sx={{ mb: 1 }}>
                <strong>Murlo would take: </strong>
                {because}
              </Typography>
              {buy.length > 0 && (
                <Typography sx={{ mb: 1 }}>
                  <strong>To buy, one of: </strong>
                  {buy.map((thing) => `${thing.name}, ${thing.amount} (${thing.sold_at})`).join("; ")}
                </Typography>
              )}
              <Stack component="ul" spacing={1} sx={{ listStyle: "none", p: 0, m: 0 }}>
                {alternatives.map((bath) => (
                  <li key={`${bath.agent_id} ${bath.recipe_label}`}>
                    <Way bath={bath} longest={longest} isChosen={isChosen(bath)} onTake={onTake} />
                  </li>
                ))}
              </Stack>
              <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
                Solid: your hands. Ticked: stay near. Open: you are free. The ring is the chalk that likely stays.
              </Typography>
            </>
          );
        }}
      </Ready>
    </Paper>
  );
}

function Way({
  bath,
  longest,
  isChosen,
  onTake,
}: {
  bath: Alternative;
  longest: number;
  isChosen: boolean;
  onTake: (bath: Alternative) => void;
}) {
  const facts = [
    `${bath.amounts}, ${bath.percent.toFixed(1)} %`,
    bath.time_text,
    bath.soak_text,
    `rinses: ${bath.rinses}${bath.rinse_note ? ` (${bath.rinse_note})` : ""}`,
    bath.baths > 1 ? `likely ${bath.baths} baths` : "",
    bath.smells ? "smells" : "",
    bath.cost_text,
  ].filter((fact) => fact !== "");
  return (
    <ButtonBase
      aria-label={isChosen ? undefined : `Take ${bath.agent_name}, ${bath.recipe_label}`}
      aria-pressed={isChosen}
      onClick={() => !isChosen && onTake(bath)}
      sx={{
        width: "100%",
        display: "flex",
        alignItems: "center",
        gap: 1.5,
        p: 1,
        textAlign: "left",
        border: isChosen ? 3 : 1,
        borderColor: isChosen ? "primary.main" : "divider",
        borderRadius: 1,
      }}
    >
      <Box sx={{ textAlign: "center", width: 56, flexShrink: 0 }}>
        {bath.after && <Bore chalk={bath.after} size={44} plain />}
        <Typography variant="body2">{bath.left_text}</Typography>
      </Box>
      <Box sx={{ flexGrow: 1, minWidth: 0 }}>
        <Typography component="span" sx={{ fontWeight: 700 }}>
          {bath.agent_name}, {bath.recipe_label}
        </Typography>{" "}
        {bath.recommended && (
          <Typography component="span" variant="body2" color="success">
            Murlo would take this
          </Typography>
        )}
        {bath.against && (
          <Typography component="span" variant="body2" color="warning">
            {bath.against}
          </Typography>
        )}
        <RibbonLine ribbon={bath.ribbon} longest={longest} />
        <Typography variant="body2" color="textSecondary">
          {facts.join(" · ")}
        </Typography>
      </Box>
    </ButtonBase>
  );
}
