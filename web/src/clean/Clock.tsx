import { Typography } from "@mui/material";
import { useEffect, useState } from "react";
import type { Schemas } from "../api/client";
import { setTitle } from "../ui/title";
import { useClock } from "../ui/useClock";
import { clockText } from "./clockText";

/** Counts down to the server's end time, so it is right after sleep, reload and on every device. */
export function Clock({
  timer,
  ahead,
  late,
  forgotten,
}: {
  timer: Schemas["Timer"];
  /** The server's time over this device's, ms. */
  ahead: number;
  late: string | null | undefined;
  forgotten: Schemas["Forgotten"] | null | undefined;
}) {
  const timeOf = useClock();
  const [now, setNow] = useState(() => Date.now() + ahead);
  const left = Math.ceil((Date.parse(timer.ends_at) - now) / 1000);
  const over = left <= 0;
  const means = forgotten && now >= Date.parse(forgotten.at) ? forgotten.text : (late ?? "");
  useEffect(() => {
    const tick = setInterval(() => setNow(Date.now() + ahead), 500);
    return () => clearInterval(tick);
  }, [ahead]);
  useEffect(() => {
    setTitle("clock", over ? "" : clockText(left));
    return () => setTitle("clock", "");
  }, [left, over]);
  return (
    <>
      <Typography role="timer" sx={{ fontSize: { xs: "4rem", md: "5.5rem" }, fontWeight: 700, lineHeight: 1 }}>
        {over ? "Over" : clockText(left)}
      </Typography>
      <Typography sx={{ fontSize: "1.1rem" }}>
        {over ? `Late by ${clockText(-left)}. ${means}` : `Come back by ${timeOf(timer.ends_at)}`}
      </Typography>
    </>
  );
}
