import { Typography } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { callBack } from "./callBack";
import { clockText } from "./clockText";

/** Counts down to the server's end time, so it is right after sleep, reload and on every device. */
export function Clock({
  timer,
  serverNow,
  late,
}: {
  timer: Schemas["Timer"];
  serverNow: string;
  late: string | null | undefined;
}) {
  const [ahead] = useState(() => Date.parse(serverNow) - Date.now());
  const [now, setNow] = useState(() => Date.now() + ahead);
  const left = Math.ceil((Date.parse(timer.ends_at) - now) / 1000);
  const over = left <= 0;
  useEffect(() => {
    const tick = setInterval(() => setNow(Date.now() + ahead), 500);
    return () => clearInterval(tick);
  }, [ahead]);
  useEffect(() => {
    document.title = over ? "Come back – Murlo" : `${clockText(left)} – Murlo`;
    return () => {
      document.title = "Murlo";
    };
  }, [left, over]);
  const wasRunning = useRef(!over);
  useEffect(() => {
    // A page opened after the end shows it as late; only an end that is lived through calls.
    if (over && wasRunning.current) callBack();
    wasRunning.current = !over;
  }, [over]);
  return (
    <>
      <Typography role="timer" sx={{ fontSize: { xs: "4rem", md: "5.5rem" }, fontWeight: 700, lineHeight: 1 }}>
        {over ? "Over" : clockText(left)}
      </Typography>
      <Typography sx={{ fontSize: "1.1rem" }}>
        {over
          ? `Late by ${clockText(-left)}. ${late ?? ""}`
          : `Come back by ${new Date(Date.parse(timer.ends_at)).toLocaleTimeString([], { hour: "numeric", minute: "2-digit" })}`}
      </Typography>
    </>
  );
}
