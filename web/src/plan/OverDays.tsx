import { Box, Button, Paper, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { Refused, send, useChange } from "../api/client";
import { newId } from "../api/newId";
import { queries } from "../api/queries";
import { Bore } from "../pictures/Bore";
import { DayField } from "../ui/DayField";
import { ErrorNotice } from "../ui/Notices";
import { Stepper } from "../ui/Stepper";
import type { Options } from "./options";

/** A clean that takes several baths, one an evening: each part rinsed and drinkable when it ends. */
export function OverDays({ id, options }: { id: string; options: Options }) {
  const [open, setOpen] = useState(false);
  const [key] = useState(newId);
  const [parts, setParts] = useState<number | null>(null);
  const [days, setDays] = useState<string[]>([]);
  const asked = { id: key, options, days, parts };
  const look = useQuery(queries.overDays(id, asked, open));
  const navigate = useNavigate();
  const keep = useChange(() => send.overDays(id, { ...asked, days: look.data?.parts.map(({ day }) => day) ?? [] }));
  const shown = look.data?.parts ?? [];
  const wrong = look.error instanceof Refused ? look.error.fields.days : undefined;
  if (!open) {
    return (
      <Box>
        <Button variant="outlined" aria-expanded={false} onClick={() => setOpen(true)}>
          Spread it over days
        </Button>
      </Box>
    );
  }
  return (
    <Paper component="section" aria-label="Over days" sx={{ p: 2 }}>
      <Stack direction="row" sx={{ gap: 2, flexWrap: "wrap", alignItems: "center", mb: 1 }}>
        <Typography variant="h2">Over days</Typography>
        <Stepper
          label="Parts"
          value={shown.length}
          least={2}
          most={4}
          onStep={(next) => {
            setParts(next);
            setDays([]);
          }}
        />
        <Button onClick={() => setOpen(false)}>In one go instead</Button>
      </Stack>
      <Stack component="ol" sx={{ listStyle: "none", p: 0, m: 0, opacity: look.isPlaceholderData ? 0.6 : 1 }}>
        {shown.map((part, n) => (
          <Stack
            component="li"
            // Nothing else tells the parts apart.
            key={n}
            direction="row"
            sx={{ gap: 2, py: 1, borderTop: 1, borderColor: "divider", alignItems: "center", flexWrap: "wrap" }}
          >
            <DayField
              label={`Part ${n + 1}`}
              value={days[n] ?? part.day}
              width={210}
              error={n === 0 ? wrong : undefined}
              onChange={(day) => day !== "" && setDays(shown.map((one, i) => (i === n ? day : (days[i] ?? one.day))))}
            />
            {part.after && <Bore chalk={part.after} size={56} />}
            <Box sx={{ flex: "1 1 240px", minWidth: 0 }}>
              <Typography>{part.time_text}</Typography>
              <Typography color="textSecondary">{part.text}</Typography>
            </Box>
          </Stack>
        ))}
      </Stack>
      <Button
        variant="contained"
        sx={{ mt: 1, minHeight: 56 }}
        disabled={shown.length === 0 || look.error !== null || keep.isPending}
        onClick={() => keep.mutate(undefined, { onSuccess: () => navigate(`/brewers/${id}`) })}
      >
        Do it over these days
      </Button>
      <ErrorNotice error={wrong ? keep.error : (look.error ?? keep.error)} />
    </Paper>
  );
}
