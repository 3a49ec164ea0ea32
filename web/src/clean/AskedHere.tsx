import { Box, Button, Paper, Typography } from "@mui/material";
import type { Schemas } from "../api/client";
import { LidLook } from "../pictures/NeedlePlan";

/** A figure of the brewer that is taken as usual, asked where it shows: touched, the rest of the clean goes by it. */
export function AskedHere({ asked, press }: { asked: Schemas["Asked"]; press: (choice: Schemas["Choice"]) => void }) {
  const drawn = asked.answers.some(({ needles }) => needles.length > 0);
  return (
    <Paper component="section" aria-label="What is yours like" sx={{ p: { xs: 1.5, sm: 2 } }}>
      <Typography gutterBottom>{asked.text}</Typography>
      <Box
        sx={
          drawn
            ? { display: "grid", gap: 1, gridTemplateColumns: "repeat(4, minmax(0, 1fr))", maxWidth: 520 }
            : { display: "flex", flexWrap: "wrap", gap: 1 }
        }
      >
        {asked.answers.map(({ choice, needles }) => (
          <Button
            key={choice.label}
            variant="outlined"
            color="inherit"
            sx={{
              minHeight: 56,
              minWidth: 0,
              ...(drawn && {
                flexDirection: "column",
                justifyContent: "start",
                lineHeight: 1.2,
                p: 0.5,
                fontSize: "0.85rem",
              }),
            }}
            onClick={() => press(choice)}
          >
            {drawn && <LidLook needles={needles} />}
            {choice.label}
          </Button>
        ))}
      </Box>
    </Paper>
  );
}
