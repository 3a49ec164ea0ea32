import { Box, Slider, Typography } from "@mui/material";
import { useState } from "react";

/** Beyond this the whole day is there, minutes. */
const longest = 185;
const step = 5;

/** "I have … minutes": the bath is picked anew, and the plan says what it then leaves. */
export function Minutes({
  minutes,
  fields,
  onChoose,
}: {
  minutes: number | null;
  fields: Record<string, string>;
  onChoose: (minutes: number | null) => void;
}) {
  const [at, setAt] = useState(minutes ?? longest);
  const words = (value: number) => (value >= longest ? "all day" : `${value} min`);
  return (
    <Box sx={{ flex: "1 1 280px", maxWidth: 460, px: 1.5 }}>
      <Typography id="minutes-there-are">
        I have <strong>{words(at)}</strong>
      </Typography>
      <Slider
        aria-labelledby="minutes-there-are"
        value={at}
        min={20}
        max={longest}
        step={step}
        getAriaValueText={words}
        onChange={(_, value) => setAt(value as number)}
        onChangeCommitted={(_, value) => onChoose((value as number) >= longest ? null : (value as number))}
      />
      {fields.minutes && <Typography color="error">{fields.minutes}</Typography>}
    </Box>
  );
}
