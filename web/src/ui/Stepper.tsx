import { IconButton, Stack, Typography } from "@mui/material";

/** A small whole number, one more or one less at a touch. */
export function Stepper({
  label,
  value,
  least = 0,
  most,
  onStep,
}: {
  label: string;
  value: number;
  least?: number;
  most: number;
  onStep: (value: number) => void;
}) {
  const button = { border: 1, borderColor: "divider", width: 52, height: 52, fontSize: 24, color: "text.primary" };
  return (
    <Stack role="group" aria-label={label} direction="row" sx={{ alignItems: "center", gap: 1 }}>
      <IconButton
        aria-label={`${label}: one less`}
        sx={button}
        disabled={value <= least}
        onClick={() => onStep(Math.max(least, value - 1))}
      >
        −
      </IconButton>
      <Typography
        component="output"
        aria-live="polite"
        sx={{ fontSize: "1.6rem", fontWeight: 700, minWidth: 40, textAlign: "center" }}
      >
        {value}
      </Typography>
      <IconButton
        aria-label={`${label}: one more`}
        sx={button}
        disabled={value >= most}
        onClick={() => onStep(Math.min(most, value + 1))}
      >
        +
      </IconButton>
    </Stack>
  );
}
