import { Box, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { queries } from "../api/queries";
import { inOrder } from "./controlName";
import { PanelView } from "./PanelView";

/** What is pressed for each purpose on one side, drawn as it was taught; nothing where nobody taught it. */
export function TaughtButtons({ brewer, circuit }: { brewer: string; circuit: string }) {
  const view = useQuery(queries.buttons(brewer, circuit)).data;
  const taught = view?.operation.taught ?? [];
  if (!view?.operation.panel || taught.length === 0) return null;
  const { panel } = view.operation;
  return (
    <Stack component="section" aria-label="Buttons" direction="row" sx={{ flexWrap: "wrap", gap: 2 }}>
      {view.asks.flatMap(({ part, name }) => {
        const touches = taught.find((one) => one.part === part)?.touches;
        if (!touches) return [];
        const words = view.operation[part] ?? "";
        return [
          <Box key={part} sx={{ flex: "1 1 260px", minWidth: 0, maxWidth: 380, breakInside: "avoid" }}>
            <Typography sx={{ fontWeight: 700 }}>{name}</Typography>
            <PanelView panel={panel} order={inOrder(touches)} label={`${name}: ${words}`} />
            <Typography>{words}</Typography>
          </Box>,
        ];
      })}
    </Stack>
  );
}
