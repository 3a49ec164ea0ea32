import { useMutation, useQueryClient } from "@tanstack/react-query";
import createClient from "openapi-fetch";
import { useEffect } from "react";
import type { components } from "./schema";
import { changesTold, takeTold } from "./told";

export type Schemas = components["schemas"];

/** The household was not reached. What a browser calls that says nothing to a person. */
export class NoLine extends Error {
  constructor() {
    super("There is no line to the household now: try again when it is back");
  }
}

/** Asks the household; a line that is not there is told in words. What was called off stays called off. */
export async function reach(request: Request | string, how?: RequestInit): Promise<Response> {
  const address = request instanceof Request && request.method === "GET" ? new URL(request.url) : undefined;
  const at = address && address.pathname + address.search;
  const told = at && takeTold(at);
  if (told !== undefined) return Response.json(told);
  try {
    return await fetch(request, how);
  } catch (cause) {
    throw cause instanceof TypeError ? new NoLine() : cause;
  }
}

export const client = createClient<import("./schema").paths>({ baseUrl: "/", fetch: reach });

/** A refusal as the server words it; `fields` holds one message per wrong field. */
export class Refused extends Error {
  readonly status: number;
  readonly fields: Record<string, string>;
  constructor(status: number, detail: string, errors: Schemas["Problem"][]) {
    // The names of fields are for programs; what was wrong stands in the messages.
    super([...new Set(errors.map((e) => e.message))].join("; ") || detail);
    this.status = status;
    this.fields = Object.fromEntries(errors.map((e) => [e.field, e.message]));
  }
}

export async function taken<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  const { data, error, response } = await call;
  if (response.ok) return data as T;
  const body = (error ?? {}) as { detail?: string; errors?: Schemas["Problem"][] };
  throw new Refused(response.status, body.detail ?? `the server answered ${response.status}`, body.errors ?? []);
}

async function refusal(response: Response, otherwise: string) {
  const body = (await response.json().catch(() => ({}))) as { detail?: string; errors?: Schemas["Problem"][] };
  return new Refused(response.status, body.detail ?? otherwise, body.errors ?? []);
}

/** Where a photo is. */
export const photoAt = (id: string) => `/api/photos/${id}`;

/** What a photo shows, and what it belongs to. */
export type PhotoOf =
  | { shows: "glass"; clean_id: string }
  | { shows: "before" | "after"; visit_id: string }
  | { shows: "guide"; brewer_id: string };

/** The path of one fact. */
export const at = (id: string) => ({ params: { path: { id } } });
/** Something new under an id made on this device, so that sending it twice is harmless. */
const as = (id: string) => ({ params: { query: { id } } });

/** With the time of this device at which it came: what still stands in for a newer answer keeps its own. */
export const received = (view: Schemas["VisitView"]) => ({ ...view, at: Date.now() });

/**
 * Changes something, then asks again for all that is computed from it. What follows a change is done even where its component
 * is gone by then: a line that is put away still offers to be brought back.
 */
export function useChange<In, Out>(change: (given: In) => Promise<Out>) {
  const cache = useQueryClient();
  const mutation = useMutation<Out, Error, In>({
    mutationFn: change,
    onSuccess: () => {
      cache.invalidateQueries({ queryKey: ["facts"] });
    },
  });
  const mutate = (given: In, then: { onSuccess?: (out: Out) => void } = {}) => {
    // The error is shown where the mutation is.
    mutation.mutateAsync(given).then(then.onSuccess, () => {});
  };
  return { ...mutation, mutate };
}

export const send = {
  signIn: (passcode: string) => taken(client.POST("/api/session", { body: { passcode } })),
  signOut: () => taken(client.DELETE("/api/session")),
  pair: (body: Schemas["Pairing"]) => taken(client.POST("/api/pair", { body })),
  invite: (body: Schemas["Invite"]) => taken(client.POST("/api/invitations", { body })),
  nameDevice: (id: string, body: Schemas["DeviceDraft"]) => taken(client.PUT("/api/devices/{id}", { ...at(id), body })),
  forgetDevice: (id: string) => taken(client.DELETE("/api/devices/{id}", at(id))),
  takeDeviceBack: (id: string) => taken(client.POST("/api/devices/{id}/restore", at(id))),
  erase: (what: Schemas["Erased"]) => taken(client.POST("/api/erase", { body: what })),
  settings: (body: Schemas["Settings"]) => taken(client.PUT("/api/settings", { body })),
  firstDevice: (body: Schemas["FirstDevice"]) => taken(client.POST("/api/settings/first", { body })),
  home: (id: string, name: string) => taken(client.POST("/api/homes", { ...as(id), body: { name } })),
  water: (id: string, body: Schemas["WaterDraft"]) => taken(client.POST("/api/waters", { ...as(id), body })),
  changeWater: (id: string, body: Schemas["WaterDraft"]) => taken(client.PUT("/api/waters/{id}", { ...at(id), body })),
  deleteWater: (id: string) => taken(client.DELETE("/api/waters/{id}", at(id))),
  restoreWater: (id: string) => taken(client.POST("/api/waters/{id}/restore", at(id))),
  entry: (brewer: string, body: Schemas["EntryDraft"]) =>
    taken(client.POST("/api/brewers/{id}/journal", { ...at(brewer), body })),
  deleteEntry: (id: string, entry: string) =>
    taken(client.DELETE("/api/brewers/{id}/journal/{entry}", { params: { path: { id, entry } } })),
  restoreEntry: (id: string, entry: string) =>
    taken(client.POST("/api/brewers/{id}/journal/{entry}/restore", { params: { path: { id, entry } } })),
  movement: (body: Schemas["MovementDraft"]) => taken(client.POST("/api/cupboard/movements", { body })),
  deleteMovement: (id: string) => taken(client.DELETE("/api/cupboard/movements/{id}", at(id))),
  restoreMovement: (id: string) => taken(client.POST("/api/cupboard/movements/{id}/restore", at(id))),
  supply: (body: Schemas["Supply"]) => taken(client.PUT("/api/cupboard/supplies/{id}", { ...at(body.id), body })),
  deleteSupply: (id: string) => taken(client.DELETE("/api/cupboard/supplies/{id}", at(id))),
  restoreSupply: (id: string) => taken(client.POST("/api/cupboard/supplies/{id}/restore", at(id))),
  cadence: (brewer: string, body: Schemas["Cadence"]) =>
    taken(client.PUT("/api/brewers/{id}/cadence", { ...at(brewer), body })),
  away: (home: string, body: Schemas["AwayDraft"]) => taken(client.POST("/api/homes/{id}/away", { ...at(home), body })),
  visit: (body: Schemas["Visit"]) => taken(client.PUT("/api/visits/{id}", { ...at(body.id), body })),
  deleteVisit: (id: string) => taken(client.DELETE("/api/visits/{id}", at(id))),
  restoreVisit: (id: string) => taken(client.POST("/api/visits/{id}/restore", at(id))),
  visitAct: (visit: string, body: Schemas["VisitAct"]) =>
    taken(client.POST("/api/visits/{id}/acts", { ...at(visit), body })),
  changeHome: (body: Schemas["Home"]) => taken(client.PUT("/api/homes/{id}", { ...at(body.id), body })),
  deleteHome: (id: string) => taken(client.DELETE("/api/homes/{id}", at(id))),
  restoreHome: (id: string) => taken(client.POST("/api/homes/{id}/restore", at(id))),
  guests: (home: string, calendar: string) =>
    taken(client.POST("/api/homes/{id}/guests", { ...at(home), body: { calendar } })),
  confirmDraft: (body: Schemas["ConfirmedDraft"]) => taken(client.POST("/api/week/confirm", { body })),
  moveDraft: (body: Schemas["MovedDraft"]) => taken(client.POST("/api/week/move", { body })),
  paid: (visit: string, body: Schemas["Payment"]) =>
    taken(client.POST("/api/visits/{id}/paid", { ...at(visit), body })),
  moveVisit: (id: string, day: string) => taken(client.POST("/api/visits/{id}/day", { ...at(id), body: { day } })),
  letter: (id: string, body: Schemas["Letter"]) => taken(client.PUT("/api/letters/{id}", { ...at(id), body })),
  deleteLetter: (id: string) => taken(client.DELETE("/api/letters/{id}", at(id))),
  restoreLetter: (id: string) => taken(client.POST("/api/letters/{id}/restore", at(id))),
  renewFeed: () => taken(client.POST("/api/feed")),
  cutFeed: () => taken(client.DELETE("/api/feed")),
  counts: (brewer: string, csv: string) =>
    taken(client.POST("/api/brewers/{id}/counts", { ...at(brewer), body: { csv } })),
  first: (body: Schemas["FirstAnswers"]) => taken(client.POST("/api/first", { body })),
  addAgent: (body: Schemas["Agent"]) => taken(client.POST("/api/agents", { body })),
  deleteAgent: (id: string) => taken(client.DELETE("/api/agents/{id}", at(id))),
  restoreAgent: (id: string) => taken(client.POST("/api/agents/{id}/restore", at(id))),
  agent: (body: Schemas["Agent"]) => taken(client.PUT("/api/agents/{id}", { ...at(body.id), body })),
  teachButtons: (id: string, circuit: string, body: Schemas["TaughtButtons"]) =>
    taken(client.PUT("/api/brewers/{id}/sides/{circuit}/buttons", { params: { path: { id, circuit } }, body })),
  addBrewer: (id: string, body: Schemas["BrewerDraft"]) => taken(client.POST("/api/brewers", { ...as(id), body })),
  changeBrewer: (id: string, body: Schemas["BrewerDraft"]) =>
    taken(client.PUT("/api/brewers/{id}", { ...at(id), body })),
  deleteBrewer: (id: string, meant: boolean) =>
    taken(client.DELETE("/api/brewers/{id}", { params: { path: { id }, query: { meant } } })),
  restoreBrewer: (id: string) => taken(client.POST("/api/brewers/{id}/restore", at(id))),
  bringBack: (kind: Schemas["PutAwayKind"], id: string) => {
    switch (kind) {
      case "brewer":
        return send.restoreBrewer(id);
      case "water":
        return send.restoreWater(id);
      case "agent":
        return send.restoreAgent(id);
      case "past_clean":
        return send.restorePast(id);
      case "way":
        return send.restoreWay(id);
      case "home":
        return send.restoreHome(id);
      case "visit":
        return send.restoreVisit(id);
      case "photo":
        return send.restorePhoto(id);
      case "supply":
        return send.restoreSupply(id);
    }
  },
  pastClean: (brewer: string, id: string, body: Schemas["PastCleanDraft"]) =>
    taken(client.POST("/api/brewers/{id}/past-cleans", { params: { path: { id: brewer }, query: { id } }, body })),
  deletePast: (id: string) => taken(client.DELETE("/api/past-cleans/{id}", at(id))),
  restorePast: (id: string) => taken(client.POST("/api/past-cleans/{id}/restore", at(id))),
  start: (brewer: string, body: Schemas["StartClean"]) =>
    taken(client.POST("/api/brewers/{id}/cleans", { ...at(brewer), body })),
  act: (clean: string, body: Schemas["SentEvent"]) =>
    taken(client.POST("/api/cleans/{id}/events", { ...at(clean), body })),
  trouble: (brewer: string, body: Schemas["TroubleNote"]) =>
    taken(client.POST("/api/brewers/{id}/trouble", { ...at(brewer), body })),
  overDays: (brewer: string, body: Schemas["SpreadClean"]) =>
    taken(client.POST("/api/brewers/{id}/over-days", { ...at(brewer), body })),
  moveParts: (id: string, days: string[]) => taken(client.PUT("/api/over-days/{id}", { ...at(id), body: { days } })),
  deleteParts: (id: string) => taken(client.DELETE("/api/over-days/{id}", at(id))),
  restoreParts: (id: string) => taken(client.POST("/api/over-days/{id}/restore", at(id))),
  keepWay: (brewer: string, body: Schemas["NewWay"]) =>
    taken(client.POST("/api/brewers/{id}/ways", { ...at(brewer), body })),
  changeWay: (id: string, body: Schemas["ChangedWay"]) => taken(client.PUT("/api/ways/{id}", { ...at(id), body })),
  deleteWay: (id: string) => taken(client.DELETE("/api/ways/{id}", at(id))),
  restoreWay: (id: string) => taken(client.POST("/api/ways/{id}/restore", at(id))),
  deletePhoto: (id: string) => taken(client.DELETE("/api/photos/{id}", at(id))),
  restorePhoto: (id: string) => taken(client.POST("/api/photos/{id}/restore", at(id))),
  photo: async (of: PhotoOf, id: string, picture: Blob) => {
    const response = await reach(`${photoAt(id)}?${new URLSearchParams(of)}`, { method: "PUT", body: picture });
    if (!response.ok) throw await refusal(response, "the photo was not taken");
  },
  /** `sent` hears how much of the file has gone, of 1: it may be large, and a line slow. */
  import: (file: File, replace: boolean, sent: (share: number) => void) =>
    new Promise<void>((taken, refused) => {
      const request = new XMLHttpRequest();
      request.open("POST", `/api/import?replace=${replace}`);
      request.upload.onprogress = ({ loaded, total }) => sent(loaded / total);
      request.onload = async () => {
        if (request.status < 300) return taken();
        refused(
          await refusal(new Response(request.responseText, { status: request.status }), "the file was not taken"),
        );
      };
      request.onerror = () => refused(new NoLine());
      request.send(file);
    }),
};

/** Hears of changes made elsewhere: another window, another device. */
export function useChanges() {
  const cache = useQueryClient();
  useEffect(() => {
    const source = new EventSource(`/api/changes${changesTold === undefined ? "" : `?since=${changesTold}`}`);
    let opened = false;
    source.onopen = () => {
      // What changed while the line was down was not heard, so all of it is asked for again.
      if (opened) cache.invalidateQueries();
      opened = true;
    };
    source.onmessage = ({ data }: MessageEvent<string>) => {
      const [kind, id] = data.split(":");
      cache.invalidateQueries({ queryKey: kind !== "clean" ? ["facts"] : id ? ["clean", id] : ["clean"] });
      // The Counter says what is in the machine of each clean.
      if (kind === "clean") {
        cache.invalidateQueries({ queryKey: ["facts", "counter"] });
        cache.invalidateQueries({ queryKey: ["facts", "visit"] });
      }
    };
    // It ends for good where this device was signed out: then it is asked who is here.
    source.onerror = () => {
      if (source.readyState === EventSource.CLOSED) cache.invalidateQueries({ queryKey: ["session"] });
    };
    return () => source.close();
  }, [cache]);
}
