import { Button, Stack, Typography } from "@mui/material";
import { cannot, ring } from "./callBack";

const or = (all: string[]) => all.join(all.length > 2 ? ", " : " or ");

/** That this device calls when a timer is over: what it cannot do, and how it sounds. */
export function Calls() {
  const all = cannot();
  return (
    <Stack direction="row" sx={{ flexWrap: "wrap", alignItems: "center", columnGap: 1 }}>
      <Typography color="textSecondary">
        {all.length > 0
          ? `This device cannot ${or(all)}: keep this page open and stay where you hear it.`
          : "It calls until you touch it, while this page is open."}
      </Typography>
      <Button sx={{ minHeight: 56 }} onClick={() => ring()}>
        Try the sound
      </Button>
    </Stack>
  );
}
