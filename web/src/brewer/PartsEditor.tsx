import { Box, Button, Checkbox, FormControlLabel, MenuItem, Stack, TextField } from "@mui/material";
import type { Schemas } from "../api/client";

const cares: Record<Schemas["Care"], string> = {
  hand: "by hand",
  top_rack: "top rack too",
  rinse_only: "only rinsed",
  wipe_only: "only wiped",
};

/** The parts that come off, and how each may be washed. */
export function PartsEditor({
  parts,
  fields,
  onChange,
}: {
  parts: Schemas["Part"][];
  fields: Record<string, string>;
  onChange: (parts: Schemas["Part"][]) => void;
}) {
  const set = (at: number, change: Partial<Schemas["Part"]>) =>
    onChange(parts.map((part, i) => (i === at ? { ...part, ...change } : part)));
  return (
    <Stack spacing={1} sx={{ gridColumn: "1 / -1" }}>
      {parts.map((part, i) => (
        <Stack
          // biome-ignore lint/suspicious/noArrayIndexKey: parts have no identity but their place
          key={i}
          direction={{ xs: "column", sm: "row" }}
          spacing={1}
        >
          <TextField
            label={`Part ${i + 1}`}
            value={part.name}
            error={`parts.${i}.name` in fields}
            helperText={fields[`parts.${i}.name`] ?? ""}
            onChange={(e) => set(i, { name: e.target.value })}
          />
          <TextField
            select
            label="Washed"
            value={part.care}
            sx={{ maxWidth: 200 }}
            onChange={(e) => set(i, { care: e.target.value as Schemas["Care"] })}
          >
            {Object.entries(cares).map(([care, words]) => (
              <MenuItem key={care} value={care}>
                {words}
              </MenuItem>
            ))}
          </TextField>
          <FormControlLabel
            sx={{ whiteSpace: "nowrap" }}
            control={<Checkbox checked={part.in_use} onChange={(e) => set(i, { in_use: e.target.checked })} />}
            label="Bath touches it"
          />
          <Button sx={{ flexShrink: 0 }} onClick={() => onChange(parts.filter((_, n) => n !== i))}>
            Take out
          </Button>
        </Stack>
      ))}
      <Box>
        <Button variant="outlined" onClick={() => onChange([...parts, { name: "", care: "hand", in_use: false }])}>
          Another part
        </Button>
      </Box>
    </Stack>
  );
}
