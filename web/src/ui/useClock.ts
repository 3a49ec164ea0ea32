import { useHousehold } from "../api/client";

/** Times of day as the household writes them, in its own zone and not the browser's. */
export function timeText(at: string | number, zone: string, hour12: boolean): string {
  return new Intl.DateTimeFormat("en", { hour: "numeric", minute: "2-digit", hour12, timeZone: zone }).format(
    new Date(at),
  );
}

export function useClock() {
  const settings = useHousehold().data?.settings;
  const zone = settings?.time_zone ?? "UTC";
  const clock = settings?.clock ?? "usual";
  const hour12 = clock === "12" || (clock === "usual" && settings?.units === "us");
  return (at: string | number) => timeText(at, zone, hour12);
}
