import {
  Alert,
  Box,
  Button,
  Checkbox,
  Chip,
  FormControlLabel,
  Paper,
  Stack,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { type FieldPath, FormProvider } from "react-hook-form";
import { useNavigate, useSearchParams } from "react-router";
import { Refused, type Schemas, send } from "../api/client";
import { newId } from "../api/newId";
import { queries } from "../api/queries";
import { StackedRibbons } from "../pictures/StackedRibbons";
import { Field } from "../ui/Field";
import { ErrorNotice, Loading, Page } from "../ui/Notices";
import { Resumed } from "../ui/Resumed";
import { dayText, useClock } from "../ui/useClock";
import { useSheet } from "../ui/useSheet";
import { endText } from "./endText";

type Visit = Schemas["Visit"];

/** What is chosen of a visit; times that nobody told are those that guests leave, or the usual ones. */
interface Typed {
  homes: string[];
  day: string;
  from: string | null;
  /** Empty: as long as it takes. */
  until: string | null;
  note: string;
  order: Schemas["Order"];
  /** What was taken out or in by hand; the rest is as proposed. */
  taken: Record<string, boolean>;
}

/** A visit that is not planned yet, at the home and on the day that the address asks for. */
export function PlanVisit() {
  const [asked] = useSearchParams();
  const round = useQuery(queries.round()).data;
  const household = useQuery(queries.household()).data;
  const [id] = useState(newId);
  if (!round || !household) return <Loading />;
  const due = round.lanes.lanes.find((lane) => lane.brewers > 0);
  const homes = asked.get("home") ?? (household.homes.length === 1 ? household.homes[0]?.id : due?.home_id);
  const day = asked.get("day") ?? round.today;
  const rhythm = household.homes.find((home) => home.id === homes)?.coming?.rhythm;
  const hours = rhythm?.when === "weeks" ? { from: rhythm.from, until: rhythm.until ?? null } : { from: "09:30:00" };
  const visit: Visit = { id, day, ...hours, stops: [], rooms: [], rhythm_day: asked.get("rhythm") };
  return (
    <Page title="Plan a visit">
      <PlanForm key={asked.toString()} visit={visit} homes={homes ? [homes] : []} isNew />
    </Page>
  );
}

/** Homes, day, what is done there; and at once what it comes to. */
export function PlanForm({ visit: planned, homes: first, isNew }: { visit: Visit; homes: string[]; isNew: boolean }) {
  const household = useQuery(queries.household()).data;
  const navigate = useNavigate();
  const begins = useRef(false);
  const plannedIds = [...(planned.stops ?? []), ...(planned.rooms ?? [])].map((known) => known.id);
  const sheet = useSheet<Typed, unknown>({
    key: `visit-${isNew ? `new-${first.join()}-${planned.day}` : planned.id}`,
    first: {
      homes: first,
      day: planned.day,
      from: isNew ? null : planned.from,
      until: isNew ? null : (planned.until ?? ""),
      note: planned.note ?? "",
      order: planned.order ?? "shortest",
      taken: isNew ? {} : Object.fromEntries(plannedIds.map((id) => [id, true])),
    },
    save: async () => {
      await send.visit(whole);
      if (begins.current) await send.visitAct(whole.id, { id: newId(), what: { kind: "started" } });
    },
    onSaved: () => navigate(begins.current ? `/visits/${whole.id}` : "/round"),
  });
  const { form } = sheet;
  const { homes, taken, ...typed } = form.watch();
  const proposal = useQuery(queries.proposal({ homes, day: typed.day, visit_id: isNew ? null : planned.id }));
  const proposed = proposal.data;
  const hours = { from: proposed?.hours?.from ?? planned.from, until: proposed?.hours?.until ?? planned.until ?? "" };
  const isIn = (id: string, usual: boolean) => taken[id] ?? (isNew && usual);
  const take = (id: string, isTaken: boolean) => form.setValue("taken", { ...taken, [id]: isTaken });
  // What was planned and is not proposed any more stays in until it is taken out.
  const other = (planned.stops ?? []).filter((stop) => !proposed?.stops.some((one) => one.stop.id === stop.id));
  const otherRooms = (planned.rooms ?? []).filter((room) => !proposed?.rooms.some((one) => one.id === room.id));
  const stops = [
    ...(proposed?.stops ?? []).filter((one) => isIn(one.stop.id, one.is_in)).map((one) => one.stop),
    ...other.filter((stop) => isIn(stop.id, true)),
  ];
  const rooms = [...(proposed?.rooms ?? []), ...otherRooms].filter((room) => isIn(room.id, true));
  const whole: Visit = {
    ...planned,
    ...typed,
    homes,
    from: typed.from || hours.from,
    until: (typed.until ?? hours.until) || null,
    stops,
    rooms,
  };
  const isSome = homes.length > 0 && typed.day !== "" && stops.length + rooms.length > 0;
  const look = useQuery(queries.visitLook(whole, isSome && !proposal.isPlaceholderData));
  const { clearErrors, setError } = form;
  const wrong = look.error instanceof Refused ? look.error.fields : null;
  // What cannot be is said before anybody sends it.
  useEffect(() => {
    clearErrors();
    for (const [name, message] of Object.entries(wrong ?? {}))
      setError(name as FieldPath<Typed>, { type: "server", message });
  }, [wrong, clearErrors, setError]);
  const isShown = Object.keys(wrong ?? {}).some((field) => ["day", "from", "until", "note"].includes(field));
  const saving = (id: string) => look.data?.savings.find((one) => one.id === id)?.text;
  const sent = (now: boolean) => () => {
    begins.current = now;
    sheet.submit();
  };
  return (
    <FormProvider {...form}>
      <Stack spacing={2}>
        <Resumed sheet={sheet} />
        <Paper component="section" aria-label="Where and when" sx={{ p: 2 }}>
          <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap", mb: 2 }} role="group" aria-label="Homes">
            {(household?.homes ?? []).map((home) => {
              const chosen = homes.includes(home.id);
              return (
                <Chip
                  key={home.id}
                  label={`${chosen ? turn(homes, home.id) : ""}${home.name}`}
                  clickable
                  aria-pressed={chosen}
                  color={chosen ? "primary" : "default"}
                  variant={chosen ? "filled" : "outlined"}
                  onClick={() =>
                    form.setValue("homes", chosen ? homes.filter((id) => id !== home.id) : [...homes, home.id])
                  }
                  sx={{ minHeight: 44, fontSize: "1rem", maxWidth: "100%" }}
                />
              );
            })}
          </Stack>
          <Stack direction="row" sx={{ gap: 2, flexWrap: "wrap" }}>
            <Field<Typed> as="day" name="day" label="Day" />
            <Field<Typed> as="time" name="from" label="From" usual={hours.from} />
            <Field<Typed>
              as="time"
              name="until"
              label="Out again by"
              usual={hours.until}
              help="Leave empty to stay as long as it takes"
            />
          </Stack>
          {(proposed?.minds ?? []).map((mind) => (
            <Alert key={mind} severity="warning" variant="outlined" sx={{ mt: 1 }}>
              {mind}
            </Alert>
          ))}
        </Paper>
        {homes.length === 0 && <Typography>Touch the home you go to.</Typography>}
        <Box
          sx={{
            display: "grid",
            gap: 2,
            gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: "minmax(0, 5fr) minmax(0, 6fr)" },
          }}
        >
          {!proposed && homes.length > 0 && !proposal.error && <Loading />}
          {proposed && homes.length > 0 && (
            <Paper component="section" aria-label="What to do" sx={{ p: 2, alignSelf: "start" }}>
              <Typography variant="h2">What to do</Typography>
              <Typography variant="body2" color="textSecondary">
                You come again about {dayText(proposed.next)}. What is due by then is ticked.
              </Typography>
              {proposed.stops.length + proposed.rooms.length === 0 && (
                <Typography sx={{ mt: 1 }}>No brewer stands there, and no other room is told of.</Typography>
              )}
              <Box component="ul" sx={{ listStyle: "none", p: 0, m: 0 }}>
                {proposed.stops.map((one) => (
                  <Tick
                    key={one.stop.id}
                    what={`${one.name}: ${one.what}`}
                    why={one.why}
                    saves={isIn(one.stop.id, one.is_in) ? saving(one.stop.id) : undefined}
                    checked={isIn(one.stop.id, one.is_in)}
                    onChange={(checked) => take(one.stop.id, checked)}
                  />
                ))}
                {other.map((stop) => (
                  <Tick
                    key={stop.id}
                    what={look.data?.stops.find((known) => known.id === stop.id)?.what ?? "A small work"}
                    why={`${look.data?.stops.find((known) => known.id === stop.id)?.name ?? ""}, as planned`}
                    saves={saving(stop.id)}
                    checked={isIn(stop.id, true)}
                    onChange={(checked) => take(stop.id, checked)}
                  />
                ))}
                {[...proposed.rooms, ...otherRooms].map((room) => (
                  <Tick
                    key={room.id}
                    what={`${room.name}, ${room.minutes} min`}
                    why={household?.homes.find((home) => home.id === room.home_id)?.name ?? ""}
                    saves={isIn(room.id, true) ? saving(room.id) : undefined}
                    checked={isIn(room.id, true)}
                    onChange={(checked) => take(room.id, checked)}
                  />
                ))}
              </Box>
            </Paper>
          )}
          {isSome && !look.data && !look.error && <Loading />}
          {isSome && look.data && (
            <Stack spacing={2} sx={{ minWidth: 0 }}>
              <Outlook outlook={look.data} visit={whole} onOrder={(order) => form.setValue("order", order)} />
            </Stack>
          )}
        </Box>
        <Box className="screen-only">
          <Field<Typed> as="lines" name="note" label="What to mind" />
        </Box>
        <ErrorNotice error={sheet.error ?? (isShown ? null : look.error)} />
        <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap" }} className="screen-only">
          <Button variant="contained" size="large" disabled={!isSome || sheet.isSaving} onClick={sent(true)}>
            Start now
          </Button>
          <Button variant="outlined" size="large" disabled={!isSome || sheet.isSaving} onClick={sent(false)}>
            Keep for that day
          </Button>
          <Button onClick={() => window.print()} disabled={!isSome}>
            Print
          </Button>
        </Stack>
      </Stack>
    </FormProvider>
  );
}

function Tick({
  what,
  why,
  saves,
  checked,
  onChange,
}: {
  what: string;
  why: string;
  saves: string | undefined;
  checked: boolean;
  onChange: (checked: boolean) => void;
}) {
  return (
    <Stack
      component="li"
      direction="row"
      sx={{ alignItems: "center", borderTop: 1, borderColor: "divider", flexWrap: "wrap", columnGap: 1 }}
    >
      <FormControlLabel
        sx={{ minHeight: 48, flexGrow: 1, minWidth: 260 }}
        control={<Checkbox checked={checked} onChange={(e) => onChange(e.target.checked)} />}
        label={
          <>
            <strong>{what}</strong> <span>{why}</span>
          </>
        }
      />
      <Typography variant="body2" color="textSecondary">
        {saves}
      </Typography>
    </Stack>
  );
}

/** Its place among several homes, which are gone to in the order in which they were touched. */
const turn = (homes: string[], id: string) => (homes.length > 1 ? `${homes.indexOf(id) + 1}. ` : "✓ ");

/** What it comes to: both orders, what does not fit, the way in, what to carry. */
function Outlook({
  outlook,
  visit,
  onOrder,
}: {
  outlook: Schemas["OutlookView"];
  visit: Visit;
  onOrder: (order: Schemas["Order"]) => void;
}) {
  const timeOf = useClock();
  const order = visit.order ?? "shortest";
  const chosen = order === "calm" ? outlook.calm : outlook.shortest;
  const names = new Map(chosen.lines.map((line) => [line.id, line.name]));
  const longest = Math.max(outlook.calm.minutes, outlook.shortest.minutes);
  return (
    <>
      <Paper component="section" aria-label="What it takes" sx={{ p: 2 }}>
        <Stack direction="row" sx={{ justifyContent: "space-between", gap: 2, flexWrap: "wrap", mb: 1 }}>
          <Box>
            <Typography variant="h2">{endText(chosen, timeOf)}</Typography>
            <Typography color="textSecondary">
              {chosen.text}. {outlook.saved}.
            </Typography>
          </Box>
          <ToggleButtonGroup
            exclusive
            value={order}
            onChange={(_, next: Schemas["Order"] | null) => next && onOrder(next)}
            aria-label="Which order"
            className="screen-only"
          >
            <ToggleButton value="shortest" sx={{ minHeight: 48 }}>
              Shortest: {outlook.shortest.in_short}
            </ToggleButton>
            <ToggleButton value="calm" sx={{ minHeight: 48 }}>
              Calm: {outlook.calm.in_short}
            </ToggleButton>
          </ToggleButtonGroup>
        </Stack>
        {chosen.late && (
          <Alert severity="warning" variant="outlined" sx={{ mb: 1 }}>
            {chosen.late}
          </Alert>
        )}
        {chosen.left_out.length > 0 && (
          <Alert severity="warning" variant="outlined" sx={{ mb: 1 }}>
            Not all of it fits: {chosen.left_out.map((id) => names.get(id) ?? nameOf(id, outlook)).join(", ")} is left
            for another time, because that does the least harm.
          </Alert>
        )}
        <StackedRibbons ordered={chosen} longest={longest} />
        <Typography variant="body2" color="textSecondary">
          Solid: your hands. Ticked: stay near. Open: it works alone.
        </Typography>
      </Paper>
      <Paper component="section" aria-label="What to carry" sx={{ p: 2 }}>
        <Typography variant="h2">What to carry</Typography>
        <Box component="ul" sx={{ listStyle: "none", p: 0, m: 0 }}>
          {outlook.kit.map((line) => (
            <Box component="li" key={line.what} sx={{ py: 0.5 }}>
              <FormControlLabel
                sx={{ minHeight: 40 }}
                control={<Checkbox />}
                label={
                  <>
                    {line.what}
                    {line.there && (
                      <Typography
                        component="span"
                        color={line.is_short ? "warning" : "textSecondary"}
                        sx={{ fontWeight: line.is_short ? 700 : 400 }}
                      >
                        {" "}
                        ({line.is_short ? "not enough: " : ""}
                        {line.there})
                      </Typography>
                    )}
                  </>
                }
              />
            </Box>
          ))}
        </Box>
        {outlook.homes
          .filter((home) => (home.access ?? "") !== "" || (home.contact ?? "") !== "")
          .map((home) => (
            <Typography key={home.id} sx={{ mt: 1 }}>
              <strong>{home.name}:</strong> {home.access} {home.contact && `Ask: ${home.contact}.`}
            </Typography>
          ))}
      </Paper>
    </>
  );
}

/** What is left out has no ribbon; the other order may have one. */
function nameOf(id: string, outlook: Schemas["OutlookView"]): string {
  const lines = [...outlook.calm.lines, ...outlook.shortest.lines];
  return lines.find((line) => line.id === id)?.name ?? "one brewer";
}
