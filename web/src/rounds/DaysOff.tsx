import { Button, IconButton, Stack, Typography } from "@mui/material";
import type { Schemas } from "../api/client";
import { DayField } from "../ui/DayField";

type DaysOffOf = Schemas["DaysOff"];

/** Times on which nobody comes, from a first to a last day; `wrong` is what was refused of one of them. */
export function DaysOff({
  off,
  set,
  wrong = () => undefined,
}: {
  off: DaysOffOf[];
  set: (off: DaysOffOf[]) => void;
  wrong?: (n: number) => string | undefined;
}) {
  const change = (n: number, part: Partial<DaysOffOf>) =>
    set(off.map((one, i) => (i === n ? { ...one, ...part } : one)));
  return (
    <Stack spacing={1}>
      {off.map((one, n) => (
        // Nothing else tells them apart, and none is put between others.
        <Stack key={n} direction="row" sx={{ gap: 1, flexWrap: "wrap", alignItems: "flex-start" }}>
          <DayField
            label={`Off from ${n + 1}`}
            value={one.from}
            width={170}
            onChange={(from) => change(n, { from, ...(one.until < from && { until: from }) })}
          />
          <DayField
            label={`Off until ${n + 1}`}
            value={one.until}
            width={170}
            error={wrong(n)}
            onChange={(until) => change(n, { until })}
          />
          <IconButton
            aria-label={`Take time off ${n + 1} out`}
            onClick={() => set(off.filter((_, i) => i !== n))}
            sx={{ width: 44, height: 44 }}
          >
            ×
          </IconButton>
        </Stack>
      ))}
      {off.length === 0 && <Typography color="textSecondary">None.</Typography>}
      <Button
        variant="outlined"
        sx={{ alignSelf: "flex-start" }}
        onClick={() => set([...off, { from: "", until: "" }])}
      >
        Add a time off
      </Button>
    </Stack>
  );
}

/** Those of which both days were given. */
export const told = (off: DaysOffOf[]) => off.filter((one) => one.from !== "" && one.until !== "");
