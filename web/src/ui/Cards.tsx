import { Box } from "@mui/material";
import type { ReactNode } from "react";

/** A list of cards, two beside each other where there is room. */
export function Cards({ children }: { children: ReactNode }) {
  return (
    <Box
      component="ul"
      sx={{
        listStyle: "none",
        p: 0,
        m: 0,
        display: "grid",
        gap: 1.5,
        gridTemplateColumns: { xs: "1fr", lg: "1fr 1fr" },
      }}
    >
      {children}
    </Box>
  );
}
