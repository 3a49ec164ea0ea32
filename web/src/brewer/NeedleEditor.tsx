import { Box, Button, Checkbox, FormControlLabel, MenuItem, Stack, TextField } from "@mui/material";
import type { Schemas } from "../api/client";

type Draft = Schemas["NeedleDraft"];

/** The needle map: which needles there are, and where their holes face. */
export function NeedleEditor({
  needles,
  fields,
  onChange,
}: {
  needles: Draft[];
  fields: Record<string, string>;
  onChange: (needles: Draft[]) => void;
}) {
  const set = (at: number, change: Partial<Draft>) =>
    onChange(needles.map((needle, i) => (i === at ? { ...needle, ...change } : needle)));
  const add = () => {
    const free =
      [1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12].find((n) => needles.every((k) => k.id !== `needle-${n}`)) ?? 13;
    onChange([
      ...needles,
      { id: `needle-${free}`, name: "", seat: "entrance", comes_out: false, at: "", holes: "0, 180", opening: false },
    ]);
  };
  return (
    <Stack spacing={1.5} sx={{ gridColumn: "1 / -1" }}>
      {needles.map((needle, i) => {
        const error = (name: string) => fields[`needles.${i}.${name}`];
        const text = (name: "name" | "holes" | "at", label: string, help: string, shown: string | undefined) => (
          <TextField
            label={label}
            value={needle[name]}
            error={shown !== undefined}
            helperText={shown ?? help}
            onChange={(e) => set(i, { [name]: e.target.value })}
          />
        );
        return (
          <Box
            key={needle.id}
            sx={{ display: "grid", gap: 1, gridTemplateColumns: { xs: "1fr 1fr", md: "1.2fr 1fr 1.2fr 1fr auto" } }}
          >
            {text("name", "Needle", "What you call it", error("name") ?? error("id"))}
            <TextField
              select
              label="Where"
              value={needle.seat}
              onChange={(e) => set(i, { seat: e.target.value as Draft["seat"] })}
            >
              <MenuItem value="entrance">in the lid</MenuItem>
              <MenuItem value="exit">below the pod</MenuItem>
            </TextField>
            {text("holes", "Holes face", "Degrees from the front, clockwise", error("holes") ?? error("holes_deg"))}
            {text("at", "Stands at", "Empty: in the middle", error("at"))}
            <Stack>
              <FormControlLabel
                control={
                  <Checkbox checked={needle.comes_out} onChange={(e) => set(i, { comes_out: e.target.checked })} />
                }
                label="Comes out"
              />
              <FormControlLabel
                control={<Checkbox checked={needle.opening} onChange={(e) => set(i, { opening: e.target.checked })} />}
                label="Opening below"
              />
              <Button onClick={() => onChange(needles.filter((_, n) => n !== i))}>Take out</Button>
            </Stack>
          </Box>
        );
      })}
      <Box>
        <Button variant="outlined" onClick={add}>
          Another needle
        </Button>
      </Box>
    </Stack>
  );
}
