// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, render, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { FormProvider } from "react-hook-form";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { Refused } from "../api/client";
import { Field, yesOrNo } from "./Field";
import { ErrorNotice } from "./Notices";
import { Resumed } from "./Resumed";
import { resumed, useSheet } from "./useSheet";

type Draft = { name: string; cups: number | null; mode: boolean | null; sizes: string[]; filter: boolean };
const first: Draft = { name: "Kiln drip", cups: 2, mode: null, sizes: [], filter: false };

interface Shown {
  save: (typed: Draft) => Promise<unknown>;
  given?: Draft | undefined;
  again?: boolean;
}

function Sheet({ save, given = first, again = false }: Shown) {
  const sheet = useSheet({ key: "test", first: given, save, again });
  return (
    <FormProvider {...sheet.form}>
      <form onSubmit={sheet.submit}>
        <Resumed sheet={sheet} />
        <Field<Draft> name="name" label="Nickname" help="What you call it" />
        <Field<Draft> as="number" name="cups" label="Cups" />
        <Field<Draft> as="choice" name="mode" label="Has a mode" options={yesOrNo} />
        <Field<Draft> as="list" name="sizes" label="Sizes" />
        <Field<Draft> as="tick" name="filter" label="A filter" />
        <ErrorNotice error={sheet.error} />
        <button type="submit">Save</button>
      </form>
    </FormProvider>
  );
}

const shown = (save: Shown["save"], given?: Draft, again = false) =>
  render(
    <QueryClientProvider client={new QueryClient()}>
      <Sheet save={save} given={given} again={again} />
    </QueryClientProvider>,
  );

beforeEach(() => localStorage.clear());
afterEach(cleanup);

test("each kind of field sends what it means", async () => {
  const save = vi.fn(async () => ({}));
  shown(save);
  const user = userEvent.setup();
  await user.clear(screen.getByLabelText("Cups"));
  await user.type(screen.getByLabelText("Cups"), "1,5");
  expect(screen.getByLabelText("Cups")).toHaveProperty("value", "1,5");
  await user.click(screen.getByLabelText("Has a mode"));
  await user.click(screen.getByRole("option", { name: "No" }));
  await user.type(screen.getByLabelText("Sizes"), "6 fl oz, 8 fl oz,");
  await user.click(screen.getByLabelText("A filter"));
  await user.click(screen.getByText("Save"));
  await waitFor(() => expect(save).toHaveBeenCalledOnce());
  expect(save).toHaveBeenCalledWith({
    name: "Kiln drip",
    cups: 1.5,
    mode: false,
    sizes: ["6 fl oz", "8 fl oz"],
    filter: true,
  });
});

test("what cannot be read is sent as it stands, and an empty number is none", async () => {
  const save = vi.fn(async () => ({}));
  shown(save);
  const user = userEvent.setup();
  const cups = screen.getByLabelText("Cups");
  await user.clear(cups);
  await user.click(screen.getByText("Save"));
  await waitFor(() => expect(save).toHaveBeenLastCalledWith({ ...first, cups: null }));
  await user.type(cups, "two");
  await user.click(screen.getByText("Save"));
  await waitFor(() => expect(save).toHaveBeenLastCalledWith({ ...first, cups: "two" }));
});

test("a refusal marks its field, takes one there, and may be tried again", async () => {
  const problem = { code: "out_of_range", field: "cups", message: "give cups from 0 to 60" } as const;
  const save = vi
    .fn()
    .mockRejectedValueOnce(new Refused(422, "", [problem]))
    .mockResolvedValue({});
  shown(save);
  const user = userEvent.setup();
  await user.click(screen.getByText("Save"));
  await waitFor(() => expect(screen.getByText("give cups from 0 to 60")).toBeTruthy());
  expect(document.activeElement).toBe(screen.getByLabelText("Cups"));
  expect(screen.queryByRole("alert")).toBeNull();
  await user.click(screen.getByText("Save"));
  await waitFor(() => expect(save).toHaveBeenCalledTimes(2));
  await waitFor(() => expect(screen.queryByText("give cups from 0 to 60")).toBeNull());
});

test("what is wrong with no field on screen is said all the same", async () => {
  const problem = { code: "unknown_id", field: "home_id", message: "there is no such home" } as const;
  shown(vi.fn().mockRejectedValue(new Refused(422, "", [problem])));
  await userEvent.click(screen.getByText("Save"));
  await waitFor(() => expect(screen.getByRole("alert").textContent).toContain("there is no such home"));
});

test("half-typed it survives leaving; started over or saved it does not", async () => {
  const save = vi.fn(async () => ({}));
  const user = userEvent.setup();
  shown(save).unmount();
  expect(localStorage.length).toBe(0);
  const before = shown(save);
  await user.type(screen.getByLabelText("Nickname"), " of the studio");
  before.unmount();
  const again = shown(save);
  expect(screen.getByLabelText("Nickname")).toHaveProperty("value", "Kiln drip of the studio");
  await user.click(screen.getByText("Start over"));
  expect(screen.getByLabelText("Nickname")).toHaveProperty("value", "Kiln drip");
  expect(screen.queryByText("Start over")).toBeNull();
  again.unmount();

  const third = shown(save);
  await user.type(screen.getByLabelText("Nickname"), " 2");
  await user.click(screen.getByText("Save"));
  await waitFor(() => expect(save).toHaveBeenCalledOnce());
  third.unmount();
  shown(save, { ...first, name: "Kiln drip 2" });
  expect(screen.queryByText("Start over")).toBeNull();
});

test("what changed elsewhere meanwhile stays changed", () => {
  const kept = { before: first, typed: { ...first, name: "Mine" } };
  const now = { ...first, cups: 5, name: "Theirs" };
  expect(resumed(now, kept)).toEqual({ ...now, name: "Mine" });
  expect(resumed(now, null)).toBe(now);
});

test("a sheet for one after the other begins anew once it was sent, and stays typed when it was refused", async () => {
  const save = vi.fn<Shown["save"]>().mockRejectedValueOnce(new Error("No line")).mockResolvedValue({});
  shown(save, undefined, true);
  const user = userEvent.setup();
  await user.clear(screen.getByLabelText("Nickname"));
  await user.type(screen.getByLabelText("Nickname"), "Lamp-room pod");
  await user.click(screen.getByText("Save"));
  await screen.findByText(/No line/);
  expect(screen.getByLabelText("Nickname")).toHaveProperty("value", "Lamp-room pod");
  await user.click(screen.getByText("Save"));
  await waitFor(() => expect(screen.getByLabelText("Nickname")).toHaveProperty("value", first.name));
  expect(save).toHaveBeenCalledTimes(2);
  cleanup();
  shown(save, undefined, true);
  expect(screen.queryByText("What you had begun here is still there.")).toBeNull();
});
