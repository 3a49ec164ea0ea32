// @vitest-environment jsdom
import { QueryClient, QueryClientProvider, useQuery } from "@tanstack/react-query";
import { cleanup, render, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, expect, test, vi } from "vitest";
import { Refused } from "../api/client";
import { Unanswered } from "./Unanswered";

function Part({ ask, helps }: { ask: () => Promise<string>; helps: boolean }) {
  const query = useQuery({ queryKey: ["part"], queryFn: ask, retry: false, meta: { helps } });
  return <p>{query.data ?? query.status}</p>;
}

const shown = (ask: () => Promise<string>, helps = false) =>
  render(
    <QueryClientProvider client={new QueryClient()}>
      <Unanswered />
      <Part ask={ask} helps={helps} />
    </QueryClientProvider>,
  );

afterEach(cleanup);

test("a part that could not be asked for is said, and asked for again", async () => {
  const ask = vi.fn().mockRejectedValueOnce(new TypeError("no line")).mockResolvedValue("here it is");
  shown(ask);
  await waitFor(() => expect(screen.getByRole("alert").textContent).toContain("could not be asked for"));
  await userEvent.click(screen.getByText("Ask again"));
  await waitFor(() => expect(screen.getByText("here it is")).toBeTruthy());
  expect(screen.queryByRole("alert")).toBeNull();
});

test("what the household could not answer is said, what it refused is not, nor what only helps", async () => {
  for (const [error, helps, isSaid] of [
    [new Refused(500, "out of order", []), false, true],
    [new Refused(404, "no such brewer", []), false, false],
    [new TypeError("no line"), true, false],
  ] as const) {
    shown(() => Promise.reject(error), helps);
    await waitFor(() => expect(screen.getByText("error")).toBeTruthy());
    expect(screen.queryAllByRole("alert").length).toBe(isSaid ? 1 : 0);
    cleanup();
  }
});
