import { FormHelperText, Stack, Typography } from "@mui/material";
import { useFormContext } from "react-hook-form";
import type { Schemas } from "../api/client";
import { DayField } from "../ui/DayField";
import { TimeField } from "../ui/TimeField";
import { Touches } from "../ui/Touches";
import { DaysOff } from "./DaysOff";

type Home = Schemas["Home"];
type RhythmOf = Schemas["Rhythm"];
type Weeks = Extract<RhythmOf, { when: "weeks" }>;

const whens = [
  ["on_call", "When asked"],
  ["weeks", "On days of the week"],
  ["guests", "Each time guests leave"],
] as const;

const days: [Schemas["DayOfWeek"], string][] = [
  ["monday", "Mon"],
  ["tuesday", "Tue"],
  ["wednesday", "Wed"],
  ["thursday", "Thu"],
  ["friday", "Fri"],
  ["saturday", "Sat"],
  ["sunday", "Sun"],
];

const everies = [
  ["1", "each week"],
  ["2", "each second"],
  ["3", "each third"],
  ["4", "each fourth"],
] as const;

const months = Array.from({ length: 12 }, (_, n) => {
  const name = new Intl.DateTimeFormat("en", { month: "short", timeZone: "UTC" }).format(Date.UTC(2026, n, 1));
  return [String(n + 1), name] as const;
});

const toggled = <T,>(all: T[], one: T) => (all.includes(one) ? all.filter((known) => known !== one) : [...all, one]);

/** When one comes to a home: its visits plan themselves from this. */
export function Rhythm({ today }: { today: string }) {
  const { watch, setValue, getFieldState, formState } = useFormContext<Home>();
  const coming = watch("coming") ?? {};
  const rhythm: RhythmOf = coming.rhythm ?? { when: "on_call" };
  const set = (part: Partial<NonNullable<Home["coming"]>>) =>
    setValue("coming", { ...coming, ...part }, { shouldDirty: true });
  const wrong = (field: string) => getFieldState(`coming.${field}` as "coming", formState).error?.message;
  const chosen = (when: RhythmOf["when"]): RhythmOf =>
    when === "weeks"
      ? { when, every: 1, since: today, days: [], from: "09:00:00", until: null }
      : when === "guests"
        ? { when }
        : { when: "on_call" };
  return (
    <Stack spacing={2}>
      <Typography variant="h3">When you come</Typography>
      <Touches
        title="How often"
        choices={whens}
        chosen={[rhythm.when]}
        onTouch={(when) => when !== rhythm.when && set({ rhythm: chosen(when) })}
      />
      <Wrong text={wrong("rhythm")} />
      {rhythm.when === "weeks" && <OnDays weeks={rhythm} set={(weeks) => set({ rhythm: weeks })} wrong={wrong} />}
      {rhythm.when !== "on_call" && (
        <>
          <Touches
            title="In these months; none chosen is all year"
            choices={months}
            chosen={(coming.months ?? []).map(String)}
            onTouch={(month) => set({ months: toggled(coming.months ?? [], Number(month)).sort((a, b) => a - b) })}
          />
          <Typography sx={{ fontWeight: 700 }}>Not on these days</Typography>
          <DaysOff off={coming.off ?? []} set={(off) => set({ off })} wrong={(n) => wrong(`off.${n}.until`)} />
        </>
      )}
    </Stack>
  );
}

function OnDays({
  weeks,
  set,
  wrong,
}: {
  weeks: Weeks;
  set: (weeks: Weeks) => void;
  wrong: (field: string) => string | undefined;
}) {
  return (
    <>
      <Touches
        title="On"
        choices={days}
        chosen={weeks.days}
        onTouch={(day) => set({ ...weeks, days: toggled(weeks.days, day) })}
      />
      <Wrong text={wrong("rhythm.days")} />
      <Touches
        title="Of which weeks"
        choices={everies}
        chosen={[String(weeks.every) as (typeof everies)[number][0]]}
        onTouch={(every) => set({ ...weeks, every: Number(every) })}
      />
      <Stack direction="row" sx={{ gap: 2, flexWrap: "wrap" }}>
        <TimeField label="You come at" value={weeks.from} onChange={(from) => from !== "" && set({ ...weeks, from })} />
        <TimeField
          label="Out by"
          value={weeks.until ?? ""}
          error={wrong("rhythm.until")}
          help="Leave empty to stay as long as it takes"
          onChange={(until) => set({ ...weeks, until: until === "" ? null : until })}
        />
        <DayField
          label="Beginning with the week of"
          value={weeks.since}
          error={wrong("rhythm.since")}
          onChange={(since) => since !== "" && set({ ...weeks, since })}
        />
      </Stack>
    </>
  );
}

const Wrong = ({ text }: { text: string | undefined }) =>
  text === undefined ? null : (
    <FormHelperText error aria-live="polite">
      {text}
    </FormHelperText>
  );
