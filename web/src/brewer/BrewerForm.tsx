import {
  Box,
  Button,
  Checkbox,
  FormControlLabel,
  MenuItem,
  Paper,
  Stack,
  TextField,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { type ReactNode, useEffect, useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import {
  Refused,
  type Schemas,
  send,
  useAnotherLike,
  useBrewer,
  useChange,
  useFamilies,
  useHousehold,
} from "../api/client";
import { newId } from "../api/newId";
import { DiscFinder } from "../pictures/DiscFinder";
import { ErrorNotice, Loading, Page } from "../ui/Notices";
import { typedOrNone, typedPercent } from "../ui/typed";
import { useHints } from "../ui/useHints";
import { WaterForm } from "../waters/WaterForm";
import { HeatingEditor } from "./HeatingEditor";
import { MechanicsEditor } from "./MechanicsEditor";
import { NeedleEditor } from "./NeedleEditor";
import { OperationEditor } from "./OperationEditor";
import { PartsEditor } from "./PartsEditor";
import { PastFields } from "./PastFields";

type Draft = Schemas["BrewerDraft"];

export function BrewerForm() {
  const id = useParams().id;
  const like = useSearchParams()[0].get("like");
  const families = useFamilies();
  const household = useHousehold();
  const brewer = useBrewer(id ?? "");
  const another = useAnotherLike(like ?? "");
  const first = id ? brewer.data?.draft : like ? another.data : families.data?.[0]?.draft;
  const error = families.error ?? household.error ?? (id ? brewer.error : like ? another.error : null);
  if (error) return <ErrorNotice error={error} />;
  if (!first || !families.data || !household.data) return <Loading />;
  return <Form key={id ?? like ?? "new"} id={id} first={first} families={families.data} household={household.data} />;
}

function Form({
  id,
  first,
  families,
  household,
}: {
  id: string | undefined;
  first: Draft;
  families: Schemas["FamilyView"][];
  household: Schemas["HouseholdView"];
}) {
  const hints = useHints();
  const navigate = useNavigate();
  const [draft, setDraft] = useState<Draft>(first);
  const [newHome, setNewHome] = useState("");
  const [adding, setAdding] = useState(household.waters.length === 0);
  const [ids, setIds] = useState(() => ({ brewer: newId(), home: newId() }));
  const save = useChange((body: Draft) => (id ? send.changeBrewer(id, body) : send.addBrewer(ids.brewer, body)));
  const addHome = useChange((name: string) => send.home(ids.home, name));
  const fields = save.error instanceof Refused ? save.error.fields : {};
  useEffect(() => {
    if (save.error) document.querySelector<HTMLElement>('form [aria-invalid="true"]')?.focus();
  }, [save.error]);
  const set = (change: Partial<Draft>) => setDraft({ ...draft, ...change });
  const policy = (change: Partial<Schemas["Policy"]>) =>
    set({ policy: { chalk: true, light: false, ...draft.policy, ...change } });
  const usual = families.find((f) => f.family === draft.family);
  const pod = draft.family !== "drip" && draft.family !== "combination";
  const side = draft.other_side;
  const setSide = (change: Partial<Schemas["SideDraft"]>) => side && set({ other_side: { ...side, ...change } });
  const sideText = (name: "dispense" | "hold_up" | "dead_volume" | "reservoir", label: string, help: string) => (
    <TextField
      label={label}
      value={side?.[name] ?? ""}
      error={`other_side.${name}` in fields}
      helperText={fields[`other_side.${name}`] ?? help}
      onChange={(e) => setSide({ [name]: e.target.value })}
    />
  );
  const place = (name: keyof Schemas["Places"], label: string) => (
    <TextField
      label={label}
      value={draft.places?.[name] ?? ""}
      error={`places.${name}` in fields}
      helperText={fields[`places.${name}`] ?? "Where it is kept"}
      onChange={(e) => set({ places: { guide: "", disc: "", adapter: "", ...draft.places, [name]: e.target.value } })}
    />
  );

  const text = (name: keyof Draft, label: string, help: string) => (
    <TextField
      label={label}
      value={draft[name] ?? ""}
      error={name in fields}
      helperText={fields[name] ?? help}
      onChange={(e) => set({ [name]: e.target.value })}
    />
  );
  const number = (name: keyof Draft, label: string, help: string) => (
    <TextField
      label={label}
      defaultValue={draft[name] ?? ""}
      error={name in fields}
      helperText={fields[name] ?? help}
      inputMode="decimal"
      onChange={(e) => set({ [name]: typedOrNone(e.target.value) })}
    />
  );

  return (
    <Page title={id ? `Edit ${first.nickname}` : "Add a brewer"}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate(draft, { onSuccess: (card) => navigate(`/brewers/${card.id}`) });
        }}
      >
        <Stack spacing={2}>
          {!id && (
            <ToggleButtonGroup
              exclusive
              value={draft.family}
              aria-label="Kind of brewer"
              onChange={(_, family: Draft["family"] | null) => {
                const template = families.find((f) => f.family === family)?.draft;
                if (template)
                  setDraft({ ...template, nickname: draft.nickname, home_id: draft.home_id, water_id: draft.water_id });
              }}
              sx={{ flexWrap: "wrap" }}
            >
              {families.map((f) => (
                <ToggleButton key={f.family} value={f.family} sx={{ minHeight: 56, px: 3 }}>
                  {f.label}
                </ToggleButton>
              ))}
            </ToggleButtonGroup>
          )}
          <Group title="Which one" key={`a${draft.family}`}>
            {text("nickname", "Nickname", "What you call it")}
            <TextField
              select
              label="Home"
              value={draft.home_id}
              error={"home_id" in fields}
              helperText={fields.home_id ?? "Where it stands"}
              onChange={(e) => set({ home_id: e.target.value })}
            >
              {household.homes.map((home) => (
                <MenuItem key={home.id} value={home.id}>
                  {home.name}
                </MenuItem>
              ))}
            </TextField>
            <Stack direction="row" spacing={1} sx={{ alignItems: "flex-start" }}>
              <TextField
                label="Another home"
                value={newHome}
                helperText="If it is not in the list"
                onChange={(e) => setNewHome(e.target.value)}
              />
              <Button
                disabled={newHome.trim() === ""}
                sx={{ flexShrink: 0 }}
                onClick={() =>
                  addHome.mutate(newHome, {
                    onSuccess: (home) => {
                      set({ home_id: home.id });
                      setNewHome("");
                      setIds({ ...ids, home: newId() });
                    },
                  })
                }
              >
                Add home
              </Button>
            </Stack>
          </Group>
          <Group title="Water">
            <TextField
              select
              label="Water it is filled with"
              value={draft.water_id}
              error={"water_id" in fields}
              helperText={fields.water_id ?? "A change holds from today; the past keeps its own"}
              onChange={(e) => set({ water_id: e.target.value })}
            >
              {household.waters.map(({ water, text: known }) => (
                <MenuItem key={water.id} value={water.id}>
                  {water.name} – {known}
                </MenuItem>
              ))}
            </TextField>
            {adding ? (
              <WaterForm
                onDone={(water) => {
                  set({ water_id: water.id });
                  setAdding(false);
                }}
                onCancel={household.waters.length === 0 ? undefined : () => setAdding(false)}
              />
            ) : (
              <Box>
                <Button onClick={() => setAdding(true)}>Another water</Button>
              </Box>
            )}
          </Group>
          <Group title="Its figures" key={`b${draft.family}`}>
            {!pod && number("carafe_marks", "Marks on the carafe", "Count the lines on the glass")}
            {!pod && text("carafe_mark", "One carafe mark", `Not a measuring cup. ${hints.mark}`)}
            {text("reservoir", "Reservoir", `To its top mark: ${pod ? hints.reservoir : hints.carafe}`)}
            {pod && text("dispense", "Largest cup", "One press of the largest size")}
            {text("hold_up", "Stays in heater and tubes", "Keep the usual figure if you do not know")}
            {text("dead_volume", "Left in the reservoir", "What is left when it asks for water")}
            {!pod && number("brew_minutes", "Minutes of a full brew", "From start to the last drop")}
            <TextField
              select
              label="How it rinses out"
              value={draft.washout ?? ""}
              error={"washout" in fields}
              helperText={fields.washout ?? "Keep the usual if you do not know"}
              onChange={(e) => set({ washout: (e.target.value || null) as Draft["washout"] })}
              slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
            >
              <MenuItem value="">as usual for its kind</MenuItem>
              <MenuItem value="tank_batch">one tank, cup by cup</MenuItem>
              <MenuItem value="tank_exp">one tank, stirred as it flows</MenuItem>
              <MenuItem value="series2">two parts in a row</MenuItem>
              <MenuItem value="series3">three parts in a row</MenuItem>
              <MenuItem value="drip">only what stays wet</MenuItem>
            </TextField>
            <Stack>
              <FormControlLabel
                control={<Checkbox checked={draft.filter} onChange={(e) => set({ filter: e.target.checked })} />}
                label="A water filter sits in the reservoir"
              />
              <FormControlLabel
                control={
                  <Checkbox checked={draft.self_clean} onChange={(e) => set({ self_clean: e.target.checked })} />
                }
                label="It has a cleaning programme that runs by itself"
              />
              <FormControlLabel
                control={<Checkbox checked={draft.hot_water} onChange={(e) => set({ hot_water: e.target.checked })} />}
                label="Its hot-water outlet is used"
              />
            </Stack>
            {pod && text("reservoir_line", "One line of the reservoir", "Only if it has evenly spaced lines")}
          </Group>
          {side && (
            <Group title="Its pod side">
              {sideText("dispense", "Pod side: largest cup", "One press of the largest size")}
              {sideText("hold_up", "Pod side: stays in heater and tubes", "Keep the usual figure if you do not know")}
              {sideText("dead_volume", "Pod side: left in the reservoir", "What is left when it asks for water")}
              {sideText("reservoir", "Pod side: own reservoir", "Leave empty if both sides share one")}
              <TextField
                label="Pod side: share of the cups, %"
                defaultValue={side.share}
                inputMode="decimal"
                error={"other_side.share" in fields}
                helperText={fields["other_side.share"] ?? "The rest goes through the carafe side"}
                onChange={(e) => setSide({ share: typedPercent(e.target.value) as number })}
              />
            </Group>
          )}
          <Group title={side ? "Buttons of the carafe side" : "Buttons"} key={`o${draft.family}`}>
            <OperationEditor
              name="operation"
              value={draft.operation}
              fields={fields}
              programme={draft.self_clean}
              onChange={(operation) => set({ operation })}
            />
          </Group>
          <Group
            title={side ? "What the carafe side does by itself" : "What it does by itself"}
            key={`m${draft.family}`}
          >
            <MechanicsEditor
              name="mechanics"
              value={draft.mechanics}
              fields={fields}
              pressed={draft.family === "pod_reservoir" || draft.family === "coded_capsule"}
              onChange={(mechanics) => set({ mechanics })}
            />
          </Group>
          {side && (
            <Group title="Buttons of the pod side">
              <OperationEditor
                name="other_side.operation"
                value={side.operation}
                fields={fields}
                programme={draft.self_clean}
                onChange={(operation) => setSide({ operation })}
              />
            </Group>
          )}
          {side && (
            <Group title="What the pod side does by itself">
              <MechanicsEditor
                name="other_side.mechanics"
                value={side.mechanics}
                fields={fields}
                pressed
                onChange={(mechanics) => setSide({ mechanics })}
              />
            </Group>
          )}
          <Group title="Where things are kept">
            {place("guide", "The maker's guide")}
            {draft.family === "coded_capsule" && place("disc", "The service disc")}
            {draft.family === "coded_capsule" && (
              <TextField
                select
                label="Reader window lies"
                value={draft.reader ?? ""}
                helperText="Lift the capsule tray to see it; the disc's code lies likewise"
                onChange={(e) => set({ reader: (e.target.value || null) as Draft["reader"] })}
                slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
              >
                <MenuItem value="">not looked yet</MenuItem>
                <MenuItem value="beside_slot">beside the slot for the disc's grip</MenuItem>
                <MenuItem value="right_angle">at a right angle to that slot</MenuItem>
              </TextField>
            )}
            {draft.family === "coded_capsule" && (
              <Box sx={{ gridColumn: "1 / -1" }}>
                <DiscFinder reader={draft.reader ?? null} size={120} />
              </Box>
            )}
            {draft.family === "combination" && place("adapter", "The pod adapter")}
          </Group>
          {id && (
            <>
              <Group title="Needles">
                <NeedleEditor
                  needles={draft.needles ?? usual?.needles ?? []}
                  fields={fields}
                  onChange={(needles) => set({ needles })}
                />
              </Group>
              <Group title="Parts that come off">
                <PartsEditor parts={draft.parts ?? []} fields={fields} onChange={(parts) => set({ parts })} />
              </Group>
            </>
          )}
          {draft.filter && (
            <Group title="Water filter" key={`f${draft.family}`}>
              {number(
                "filter_takes_out",
                "Takes out of carbonate hardness, %",
                "0 for plain charcoal; a softening one says so",
              )}
              {number("filter_days", "Lasts, days", "Whichever is sooner")}
              {number("filter_fills", "Lasts, reservoir fills", "Whichever is sooner")}
              {number("filter_price", "Price of a new one", "Leave empty if you do not know")}
            </Group>
          )}
          <Group title="When to descale" key={`d${draft.family}`}>
            <Stack>
              <FormControlLabel
                control={
                  <Checkbox
                    checked={draft.policy?.chalk ?? true}
                    onChange={(e) => policy({ chalk: e.target.checked })}
                  />
                }
                label="When the computed chalk reaches the limit"
              />
              <FormControlLabel
                control={
                  <Checkbox
                    checked={draft.policy?.light ?? false}
                    onChange={(e) => policy({ light: e.target.checked })}
                  />
                }
                label="When its own light asks"
              />
              <FormControlLabel
                control={
                  <Checkbox
                    checked={draft.light_counts ?? false}
                    onChange={(e) => set({ light_counts: e.target.checked })}
                  />
                }
                label="Its light only counts water: learn nothing from it"
              />
            </Stack>
            <TextField
              label="At least every so many days"
              inputMode="numeric"
              defaultValue={draft.policy?.days ?? ""}
              error={"policy.days" in fields}
              helperText={fields["policy.days"] ?? "Leave empty for no such rule; half a year always holds"}
              onChange={(e) => policy({ days: typedOrNone(e.target.value) })}
            />
            <TextField
              label="At least every so many brews"
              inputMode="numeric"
              defaultValue={draft.policy?.brews ?? ""}
              error={"policy.brews" in fields}
              helperText={fields["policy.brews"] ?? "Leave empty for no such rule"}
              onChange={(e) => policy({ brews: typedOrNone(e.target.value) })}
            />
          </Group>
          {id && (
            <Group title={side ? "How chalk grows in the carafe side" : "How chalk grows in it"}>
              <HeatingEditor
                name="heating"
                value={draft.heating}
                fields={fields}
                onChange={(heating) => set({ heating })}
              />
            </Group>
          )}
          {id && side && (
            <Group title="How chalk grows in the pod side">
              <HeatingEditor
                name="other_side.heating"
                value={side.heating}
                fields={fields}
                onChange={(heating) => setSide({ heating })}
              />
            </Group>
          )}
          {household.agents.length > 0 && (
            <Group title="Forbidden by its maker">
              <Box sx={{ gridColumn: "1 / -1" }}>
                {household.agents.map((agent) => (
                  <FormControlLabel
                    key={agent.id}
                    control={
                      <Checkbox
                        checked={(draft.forbids ?? []).includes(agent.id)}
                        onChange={(e) =>
                          set({
                            forbids: e.target.checked
                              ? [...(draft.forbids ?? []), agent.id]
                              : (draft.forbids ?? []).filter((f) => f !== agent.id),
                          })
                        }
                      />
                    }
                    label={agent.name}
                  />
                ))}
              </Box>
            </Group>
          )}
          <Group title="Habit" key={`c${draft.family}`}>
            {number("weekday_cups", "Cups a day, Monday to Friday", "On average")}
            {number("weekend_cups", "Cups a day, weekend", "On average")}
            {text("cup", "One cup", hints.cup)}
            <PastFields draft={draft} fields={fields} set={set} />
          </Group>
          {save.error && (
            <ErrorNotice
              error={
                Object.keys(fields).length > 0
                  ? new Error("Some fields need another look; they are marked in red")
                  : save.error
              }
            />
          )}
          <Box>
            <Button type="submit" variant="contained" size="large" disabled={save.isPending}>
              {id ? "Save" : "Add this brewer"}
            </Button>
          </Box>
        </Stack>
      </form>
    </Page>
  );
}

function Group({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Paper sx={{ p: 2 }}>
      <Typography variant="h2" gutterBottom>
        {title}
      </Typography>
      <Box
        sx={{ display: "grid", gap: 2, pt: 1, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr", lg: "1fr 1fr 1fr" } }}
      >
        {children}
      </Box>
    </Paper>
  );
}
