import { Box, Button, ButtonBase, Dialog, Stack, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { queries } from "../api/queries";
import { MishapSign } from "../pictures/MishapSign";
import { Ready } from "../ui/Notices";
import { typedOrNone } from "../ui/typed";

/** Something went wrong: what still counts, what starts again, what is in the machine now. */
export function Mishaps({
  clean,
  open,
  onClose,
  act,
  look,
}: {
  clean: string;
  open: boolean;
  onClose: () => void;
  act: (what: Schemas["Act"]) => void;
  /** Somebody else was at it: what is in it is looked at. */
  look: () => void;
}) {
  const [chosen, setChosen] = useState("");
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="mishap">
      <Stack spacing={2} sx={{ p: 3 }}>
        <Typography variant="h2" id="mishap">
          What went wrong?
        </Typography>
        <Ready query={useQuery(queries.mishaps(clean, open))}>
          {(mishaps) => {
            const mishap = mishaps.find((m) => m.id === chosen);
            return (
              <>
                {!mishap && (
                  <Button variant="outlined" sx={{ minHeight: 56 }} onClick={look}>
                    I do not know what is in it
                  </Button>
                )}
                {!mishap && (
                  <Box sx={{ display: "grid", gap: 1, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" } }}>
                    {mishaps.map((m) => (
                      <ButtonBase
                        key={m.id}
                        onClick={() => setChosen(m.id)}
                        sx={{
                          justifyContent: "flex-start",
                          textAlign: "left",
                          gap: 1.5,
                          p: 1.5,
                          minHeight: 72,
                          border: 1,
                          borderColor: "divider",
                          borderRadius: 1,
                          typography: "body1",
                        }}
                      >
                        <MishapSign id={m.id} />
                        {m.what}
                      </ButtonBase>
                    ))}
                  </Box>
                )}
                {mishap && (
                  <Stack direction="row" spacing={2} sx={{ alignItems: "center" }}>
                    <MishapSign id={mishap.id} />
                    <Typography variant="h3" component="p" sx={{ flexGrow: 1 }}>
                      {mishap.what}
                    </Typography>
                    <Button onClick={() => setChosen("")}>Something else</Button>
                  </Stack>
                )}
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
                {mishap?.recount && (
                  <SetCount
                    key={mishap.id}
                    recount={mishap.recount}
                    onSet={(count) => {
                      act({ kind: "recounted", step: mishap.recount?.step ?? "", count });
                      onClose();
                    }}
                  />
                )}
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

function SetCount({ recount, onSet }: { recount: Schemas["Recount"]; onSet: (count: number) => void }) {
  const [count, setCount] = useState(String(recount.count));
  const value = typedOrNone(count);
  return (
    <Stack direction="row" spacing={1}>
      <TextField
        label="How many still count"
        value={count}
        inputMode="numeric"
        onChange={(e) => setCount(e.target.value)}
        sx={{ maxWidth: 200 }}
      />
      {/* Text is sent as typed: the refusal names it. */}
      <Button
        variant="contained"
        sx={{ minHeight: 56 }}
        disabled={value === null}
        onClick={() => onSet(value as number)}
      >
        Count on from {count}
      </Button>
    </Stack>
  );
}
