import { Box, Button, Collapse, Stack, Typography } from "@mui/material";
import { useState } from "react";
import type { Schemas } from "../api/client";

/** "Show the working": formula, inputs, result and source of each figure. */
export function Working({ working }: { working: Schemas["Working"][] }) {
  const [open, setOpen] = useState(false);
  return (
    <Box>
      <Button variant="text" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? "Hide the working" : "Show the working"}
      </Button>
      <Collapse in={open} unmountOnExit>
        <Stack spacing={2} sx={{ pt: 1 }}>
          {working.map((w) => (
            <Box key={w.figure} sx={{ borderLeft: 3, borderColor: "divider", pl: 2 }}>
              <Typography variant="h3" component="h3">
                {w.figure}: {w.result}
              </Typography>
              <Typography>{w.formula}</Typography>
              <Typography color="textSecondary">
                {w.inputs.map((input) => `${input.name}: ${input.value}`).join(" · ")}
              </Typography>
              <Typography variant="body2" color="textSecondary">
                Source: {w.source}
              </Typography>
            </Box>
          ))}
        </Stack>
      </Collapse>
    </Box>
  );
}
