import { Box, Stack, ToggleButton, Typography } from "@mui/material";

/** One line of answers of which one holds, or with `several` any number. */
export function Touches<T extends string>({
  title,
  choices,
  chosen,
  onTouch,
}: {
  title: string;
  choices: readonly (readonly [T, string])[];
  chosen: readonly T[];
  onTouch: (choice: T) => void;
}) {
  return (
    <Stack component="fieldset" sx={{ border: 0, p: 0, m: 0, minWidth: 0 }} spacing={0.75}>
      <Typography component="legend" sx={{ fontWeight: 700, p: 0, mb: 0.75 }}>
        {title}
      </Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1 }}>
        {choices.map(([id, words]) => (
          <ToggleButton
            key={id}
            value={id}
            selected={chosen.includes(id)}
            color="primary"
            onClick={() => onTouch(id)}
            sx={{ minHeight: 48, px: 1.5, color: "text.primary" }}
          >
            {words}
          </ToggleButton>
        ))}
      </Box>
    </Stack>
  );
}
