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
        gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: "repeat(2, minmax(0, 1fr))" },
      }}
    >
      {children}
    </Box>
  );
}
