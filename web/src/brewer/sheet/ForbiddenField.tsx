import { Box, Checkbox, FormControlLabel } from "@mui/material";
import { useController } from "react-hook-form";
import type { Schemas } from "../../api/client";

/** The agents that its maker forbids. */
export function ForbiddenField({ agents }: { agents: Schemas["Agent"][] }) {
  const { field } = useController<Schemas["BrewerDraft"], "forbids">({ name: "forbids" });
  const forbidden = field.value ?? [];
  return (
    <Box sx={{ gridColumn: "1 / -1" }}>
      {agents.map(({ id, name }) => (
        <FormControlLabel
          key={id}
          control={
            <Checkbox
              checked={forbidden.includes(id)}
              onChange={(e) =>
                field.onChange(e.target.checked ? [...forbidden, id] : forbidden.filter((other) => other !== id))
              }
            />
          }
          label={name}
        />
      ))}
    </Box>
  );
}
