import { Button, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { send, useChange } from "../api/client";
import { queries } from "../api/queries";
import { useClock } from "../ui/useClock";

/** That this device has said how it writes; it says so once, and is not asked again over what somebody chose. */
const said = "murlo-first-device";

/** How amounts and times are written, taken from the first device, and changed by a touch. */
export function WrittenAs() {
  const settings = useQuery(queries.household()).data?.settings;
  const { mutate: tell } = useChange(send.firstDevice);
  const change = useChange(send.settings);
  const timeOf = useClock();
  useEffect(() => {
    if (localStorage.getItem(said)) return;
    localStorage.setItem(said, "yes");
    const { hour12 } = new Intl.DateTimeFormat(undefined, { hour: "numeric" }).resolvedOptions();
    tell({ language: navigator.language, has_12_hours: hour12 ?? false });
  }, [tell]);
  if (!settings) return null;
  const isUs = settings.units === "us";
  return (
    <Stack direction="row" sx={{ flexWrap: "wrap", alignItems: "center", columnGap: 1 }}>
      <Typography color="textSecondary">
        {isUs ? "Amounts in cups and fluid ounces" : "Amounts in litres and grams"}, times as {timeOf(Date.now())}.
      </Typography>
      <Button
        sx={{ minHeight: 44 }}
        onClick={() => change.mutate({ ...settings, units: isUs ? "metric" : "us", clock: "usual" })}
      >
        {isUs ? "Litres and grams instead" : "Cups and fluid ounces instead"}
      </Button>
    </Stack>
  );
}
