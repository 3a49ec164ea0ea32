import { Box, Button, Dialog, MenuItem, Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { useMishaps } from "../api/client";
import { Ready } from "../ui/Notices";

/** Something went wrong: what still counts, what starts again, what is in the machine now. */
export function Mishaps({ clean, open, onClose }: { clean: string; open: boolean; onClose: () => void }) {
  const [chosen, setChosen] = useState("");
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="mishap">
      <Stack spacing={2} sx={{ p: 3 }}>
        <Typography variant="h2" id="mishap">
          What went wrong?
        </Typography>
        <Ready query={useMishaps(clean, open)}>
          {(mishaps) => {
            const mishap = mishaps.find((m) => m.id === chosen);
            return (
              <>
                <TextField
                  select
                  label="It happened that"
                  value={mishap?.id ?? ""}
                  onChange={(e) => setChosen(e.target.value)}
                >
                  {mishaps.map((m) => (
                    <MenuItem key={m.id} value={m.id} sx={{ whiteSpace: "normal" }}>
                      {m.what}
                    </MenuItem>
                  ))}
                </TextField>
                {mishap &&
                  [
                    ["In the machine now", mishap.inside],
                    ["Still counts", mishap.counts],
                    ["Starts again", mishap.again],
                  ].map(([title, text]) => (
                    <Box key={title}>
                      <Typography color="textSecondary">{title}</Typography>
                      <Typography sx={{ fontSize: "1.2rem" }}>{text}</Typography>
                    </Box>
                  ))}
              </>
            );
          }}
        </Ready>
        <Button variant="outlined" sx={{ minHeight: 56 }} onClick={onClose}>
          Back to the clean
        </Button>
      </Stack>
    </Dialog>
  );
}
