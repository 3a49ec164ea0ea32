import { Box, Button, Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { inOrder } from "./controlName";
import { PanelView } from "./PanelView";

/** The buttons that the step takes, drawn as they were taught; or the way to teach them, in the step where they are pressed. */
export function StepButtons({ clean }: { clean: Schemas["CleanView"] }) {
  const { buttons, plan } = clean;
  if (!buttons) return null;
  const { panel, parts, asks } = buttons;
  const teach = (part: string | undefined) =>
    `/brewers/${plan.brewer_id}/buttons?${new URLSearchParams({ side: plan.circuit_id, back: `/cleans/${clean.id}`, ...(part && { part }) })}`;
  return (
    <Stack component="section" aria-label="Buttons" direction="row" sx={{ flexWrap: "wrap", gap: 2 }}>
      {parts.map(({ part, name, words, touches }) => (
        <Box key={part} sx={{ flex: "1 1 300px", minWidth: 0, maxWidth: 440 }}>
          <Typography sx={{ fontWeight: 700 }}>{name}</Typography>
          <PanelView panel={panel} order={inOrder(touches)} label={`${name}: ${words}`} />
          <Button component={Link} to={teach(part)} sx={{ minHeight: 44 }}>
            That did nothing: what then?
          </Button>
        </Box>
      ))}
      {parts.length === 0 && (
        <Button
          component={Link}
          to={teach(asks[0]?.part)}
          variant="outlined"
          sx={{ alignSelf: "flex-start", minHeight: 44 }}
        >
          Show Murlo what you press
        </Button>
      )}
    </Stack>
  );
}
