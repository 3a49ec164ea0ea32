import type { Schemas } from "../api/client";

/**
 * A planned visit that was begun without a line at `began`, by this device: the order it was planned in stands until the household
 * makes it anew, its hours counted from when it really began.
 */
export function begunHere<V extends Schemas["VisitView"]>(view: V, began: string): V & { at: number } {
  const at = Date.parse(began);
  const { visit, outlook } = view;
  if (view.stage !== "planned" || !outlook) return { ...view, at };
  const order = visit.order ?? "shortest";
  const planned = outlook[order];
  const late = at - Date.parse(planned.acts[0]?.at ?? began);
  const moved = (time: string) => new Date(Date.parse(time) + late).toISOString();
  const left = {
    ...planned,
    acts: planned.acts.map((act) => ({ ...act, at: moved(act.at), latest: moved(act.latest) })),
    ends_at: moved(planned.ends_at),
    or_ends_at: planned.or_ends_at ? moved(planned.or_ends_at) : null,
  };
  const run = {
    now: began,
    clock: visit.from,
    started_at: began,
    left,
    timers: [],
    until: visit.until ?? null,
    order,
    inside: [],
    is_done: false,
  };
  return { ...view, at, stage: "running", run };
}
