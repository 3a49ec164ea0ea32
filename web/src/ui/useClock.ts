import { useQuery } from "@tanstack/react-query";
import { queries } from "../api/queries";

/** Times of day as the household writes them, in its own zone and not the browser's. */
export function timeText(at: string | number, zone: string, hour12: boolean): string {
  return new Intl.DateTimeFormat("en", { hour: "numeric", minute: "2-digit", hour12, timeZone: zone }).format(
    new Date(at),
  );
}

/** Whether the household writes times with 12 hours. */
export function useHour12() {
  const settings = useQuery(queries.household()).data?.settings;
  const clock = settings?.clock ?? "usual";
  return clock === "12" || (clock === "usual" && settings?.units === "us");
}

export function useClock() {
  const zone = useQuery(queries.household()).data?.settings.time_zone ?? "UTC";
  const hour12 = useHour12();
  return (at: string | number) => timeText(at, zone, hour12);
}

/** "9:30 AM" of "09:30:00", as the household writes times; days as people say them. */
export function useDayAndTime() {
  const hour12 = useHour12();
  return (day: string, time: string) => {
    const at = new Date(`${day}T${time}Z`);
    const weekday = new Intl.DateTimeFormat("en", { weekday: "short", timeZone: "UTC" }).format(at);
    return `${weekday} ${dayText(day)}, ${timeText(at.getTime(), "UTC", hour12)}`;
  };
}

/** "9:30 AM" of "09:30:00", as the household writes times. */
export function useTimeOfDay() {
  const hour12 = useHour12();
  return (time: string) => timeText(Date.parse(`1970-01-01T${time}Z`), "UTC", hour12);
}

/** "27 Nov, 9:30 AM" of an instant, in the household's zone. */
export function useMoment() {
  const zone = useQuery(queries.household()).data?.settings.time_zone ?? "UTC";
  const hour12 = useHour12();
  return (at: string) => {
    // Swedish writes dates as the machine does.
    const day = new Intl.DateTimeFormat("sv", { timeZone: zone }).format(new Date(at));
    return `${dayText(day)}, ${timeText(at, zone, hour12)}`;
  };
}

/** "27 Dec" of "2026-12-27". */
export function dayText(day: string): string {
  const at = new Date(day);
  const month = new Intl.DateTimeFormat("en", { month: "short", timeZone: "UTC" }).format(at);
  return `${at.getUTCDate()} ${month}`;
}
