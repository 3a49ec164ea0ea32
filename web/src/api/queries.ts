import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { at, client, received, type Schemas, taken } from "./client";
import type { paths } from "./schema";

/** Which lines of the log are asked for. */
export type LogQuery = NonNullable<paths["/api/log"]["get"]["parameters"]["query"]>;

/** What the household can be asked, each with the key under which its answer is kept: "facts" change with any fact. */
export const queries = {
  counter: () => queryOptions({ queryKey: ["facts", "counter"], queryFn: () => taken(client.GET("/api/counter")) }),
  household: () =>
    queryOptions({ queryKey: ["facts", "household"], queryFn: () => taken(client.GET("/api/household")) }),
  families: () => queryOptions({ queryKey: ["facts", "families"], queryFn: () => taken(client.GET("/api/families")) }),
  /** What there is to choose from; it changes with the program only. */
  choices: () =>
    queryOptions({ queryKey: ["choices"], queryFn: () => taken(client.GET("/api/choices")), staleTime: Infinity }),
  firstQuestions: () => queryOptions({ queryKey: ["facts", "first"], queryFn: () => taken(client.GET("/api/first")) }),
  firstLook: (answers: Schemas["Answers"]) =>
    queryOptions({
      queryKey: ["facts", "first", answers],
      queryFn: () => taken(client.POST("/api/first/look", { body: answers })),
      placeholderData: keepPreviousData,
      enabled: answers.family != null,
      retry: false,
    }),
  waters: () => queryOptions({ queryKey: ["facts", "waters"], queryFn: () => taken(client.GET("/api/waters")) }),
  whatIf: (id: string, body: Schemas["WhatIf"]) =>
    queryOptions({
      queryKey: ["facts", "what-if", id, body],
      queryFn: () => taken(client.POST("/api/brewers/{id}/what-if", { ...at(id), body })),
      placeholderData: keepPreviousData,
      retry: false,
    }),
  practice: (body: Schemas["PracticeDraft"]) =>
    queryOptions({
      queryKey: ["practice", body],
      queryFn: () => taken(client.POST("/api/practice", { body })),
      placeholderData: keepPreviousData,
      gcTime: 0,
    }),
  trouble: (draft: Schemas["TroubleDraft"]) =>
    queryOptions({
      queryKey: ["facts", "trouble", draft],
      queryFn: () => taken(client.POST("/api/trouble", { body: draft })),
      placeholderData: keepPreviousData,
      retry: false,
    }),
  log: (query: LogQuery) =>
    queryOptions({
      queryKey: ["facts", "log", query],
      queryFn: () => taken(client.GET("/api/log", { params: { query } })),
      placeholderData: keepPreviousData,
    }),
  cupboard: () => queryOptions({ queryKey: ["facts", "cupboard"], queryFn: () => taken(client.GET("/api/cupboard")) }),
  round: () => queryOptions({ queryKey: ["facts", "round"], queryFn: () => taken(client.GET("/api/round")) }),
  /** A week of visits; this one where no day is given. */
  week: (day: string) =>
    queryOptions({
      queryKey: ["facts", "week", day],
      queryFn: () => taken(client.GET("/api/week", { params: { query: day === "" ? {} : { day } } })),
      placeholderData: keepPreviousData,
    }),
  /** Who owes what of a month; this one where no day is given. */
  owed: (day: string) =>
    queryOptions({
      queryKey: ["facts", "owed", day],
      queryFn: () => taken(client.GET("/api/owed", { params: { query: day === "" ? {} : { day } } })),
      placeholderData: keepPreviousData,
    }),
  letters: () => queryOptions({ queryKey: ["facts", "letters"], queryFn: () => taken(client.GET("/api/letters")) }),
  proposal: (body: Schemas["VisitWish"]) =>
    queryOptions({
      queryKey: ["facts", "propose", body],
      queryFn: () => taken(client.POST("/api/visits/propose", { body })),
      placeholderData: keepPreviousData,
      enabled: body.homes.length > 0 && body.day !== "",
      retry: false,
    }),
  visitLook: (body: Schemas["Visit"], wanted: boolean) =>
    queryOptions({
      queryKey: ["facts", "visit-look", body],
      queryFn: () => taken(client.POST("/api/visits/look", { body })),
      placeholderData: keepPreviousData,
      enabled: wanted,
      retry: false,
    }),
  /** A visit as it stands; scheduled again from what is whenever one of its cleans moves. */
  visit: (id: string, following?: string) =>
    queryOptions({
      queryKey: ["facts", "visit", id, following ?? ""],
      queryFn: async () =>
        received(
          await taken(
            client.GET("/api/visits/{id}", {
              params: { path: { id }, query: following === undefined ? {} : { following } },
            }),
          ),
        ),
      placeholderData: keepPreviousData,
      // The visit stands without it.
      meta: { helps: following !== undefined },
      enabled: id !== "",
      // While it runs, what is next also hangs on the clock.
      refetchInterval: ({ state }) => (state.data?.stage === "running" ? 15_000 : false),
      retry: 1,
    }),
  visitCards: (id: string) =>
    queryOptions({
      queryKey: ["facts", "cards", id],
      queryFn: () => taken(client.GET("/api/visits/{id}/cards", at(id))),
    }),
  cleanCard: (id: string) =>
    queryOptions({
      queryKey: ["facts", "card", id],
      queryFn: () => taken(client.GET("/api/cleans/{id}/card", at(id))),
      retry: false,
    }),
  archive: () => queryOptions({ queryKey: ["facts", "archive"], queryFn: () => taken(client.GET("/api/archive")) }),
  session: () =>
    queryOptions({ queryKey: ["session"], queryFn: () => taken(client.GET("/api/session")), staleTime: 60_000 }),
  eraseLook: (what: Schemas["Erased"]) =>
    queryOptions({
      queryKey: ["erase", what],
      queryFn: () => taken(client.POST("/api/erase/look", { body: what })),
      retry: false,
      gcTime: 0,
    }),
  devices: (wanted: boolean) =>
    queryOptions({
      queryKey: ["facts", "devices"],
      queryFn: () => taken(client.GET("/api/devices")),
      enabled: wanted,
    }),
  lookAtHome: (token: string) =>
    queryOptions({
      queryKey: ["look", token],
      queryFn: () => taken(client.GET("/api/look", { params: { header: { authorization: `Bearer ${token}` } } })),
      retry: false,
      refetchInterval: 60_000,
    }),
  brewer: (id: string) =>
    queryOptions({
      queryKey: ["facts", "brewer", id],
      queryFn: () => taken(client.GET("/api/brewers/{id}", at(id))),
      enabled: id !== "",
    }),
  buttons: (id: string, circuit: string) =>
    queryOptions({
      queryKey: ["facts", "buttons", id, circuit],
      queryFn: () =>
        taken(client.GET("/api/brewers/{id}/sides/{circuit}/buttons", { params: { path: { id, circuit } } })),
      // What somebody is teaching is not overtaken by what others changed meanwhile.
      staleTime: Number.POSITIVE_INFINITY,
      gcTime: 0,
    }),
  anotherLike: (id: string) =>
    queryOptions({
      queryKey: ["facts", "like", id],
      queryFn: () => taken(client.GET("/api/brewers/{id}/like", at(id))),
      enabled: id !== "",
    }),
  plan: (id: string, options: Schemas["PlanOptions"]) =>
    queryOptions({
      queryKey: ["facts", "plan", id, options],
      queryFn: () => taken(client.POST("/api/brewers/{id}/plan", { ...at(id), body: options })),
      placeholderData: keepPreviousData,
      retry: false,
    }),
  overDays: (id: string, body: Schemas["SpreadClean"], wanted: boolean) =>
    queryOptions({
      queryKey: ["facts", "over-days", id, body],
      queryFn: () => taken(client.POST("/api/brewers/{id}/over-days/look", { ...at(id), body })),
      placeholderData: keepPreviousData,
      enabled: wanted,
      retry: false,
    }),
  baths: (id: string, options: Schemas["PlanOptions"]) =>
    queryOptions({
      queryKey: ["facts", "baths", id, options],
      queryFn: () => taken(client.POST("/api/brewers/{id}/baths", { ...at(id), body: options })),
      placeholderData: keepPreviousData,
      retry: false,
    }),
  mix: (draft: Schemas["MixDraft"]) =>
    queryOptions({
      queryKey: ["facts", "mix", draft],
      queryFn: () => taken(client.POST("/api/mix", { body: draft })),
      placeholderData: keepPreviousData,
      retry: false,
    }),
  unmeasured: (draft: Schemas["PourDraft"]) =>
    queryOptions({
      queryKey: ["facts", "unmeasured", draft],
      queryFn: () => taken(client.POST("/api/mix/unmeasured", { body: draft })),
      placeholderData: keepPreviousData,
      retry: false,
    }),
  clean: (id: string) =>
    queryOptions({
      queryKey: ["clean", id],
      queryFn: () => taken(client.GET("/api/cleans/{id}", at(id))),
    }),
  /** The planned way from so many acts on, asked for while there is a line. */
  ahead: (id: string, events: number, wanted: boolean) =>
    queryOptions({
      queryKey: ["clean", id, "ahead", events],
      queryFn: () => taken(client.GET("/api/cleans/{id}/ahead", at(id))),
      enabled: wanted,
      staleTime: Number.POSITIVE_INFINITY,
      // A clean goes on without it.
      meta: { helps: true },
      // A way from elsewhere helps nobody.
      placeholderData: undefined,
    }),
  mishaps: (id: string, open: boolean) =>
    queryOptions({
      queryKey: ["clean", id, "mishaps"],
      queryFn: () => taken(client.GET("/api/cleans/{id}/mishaps", at(id))),
      enabled: open,
    }),
};
