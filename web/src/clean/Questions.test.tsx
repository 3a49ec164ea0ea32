// @vitest-environment jsdom
import { cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, expect, test, vi } from "vitest";
import type { Schemas } from "../api/client";
import { type Answers, Questions } from "./Questions";

const question = (id: Schemas["QuestionId"], optional = false): Schemas["Question"] => ({
  id,
  text: `${id}?`,
  how: "",
  optional,
  answers: [
    { id: "good", text: `${id}: yes` },
    { id: "bad", text: `${id}: no` },
  ],
});
const questions = [question("smell"), question("clear"), question("sound", true)];

const wide = (matches: boolean) =>
  vi.stubGlobal("matchMedia", () => ({ matches, addEventListener: () => {}, removeEventListener: () => {} }));
const shown = (onAnswer: (answers: Answers) => void) =>
  render(
    <Questions questions={questions} label="That is how it is" onAnswer={onAnswer}>
      <p>Glasses</p>
    </Questions>,
  );

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

test("digits answer the first question that is open, and nothing else is pressed", async () => {
  wide(false);
  const onAnswer = vi.fn();
  shown(onAnswer);
  const button = screen.getByRole<HTMLButtonElement>("button", { name: "That is how it is" });
  await userEvent.keyboard("2");
  await userEvent.keyboard("9");
  expect(button.disabled).toBe(true);
  await userEvent.keyboard("1");
  expect(button.disabled).toBe(false);
  await userEvent.click(button);
  expect(onAnswer).toHaveBeenCalledWith({ smell: "bad", clear: "good" });
});

test("on a phone one question stands alone; one may go back, and what is measured comes last", async () => {
  wide(true);
  const onAnswer = vi.fn();
  shown(onAnswer);
  expect(screen.queryByText("clear?")).toBeNull();
  expect(screen.queryByText("Glasses")).toBeNull();
  await userEvent.click(screen.getByText("smell: yes"));
  expect(screen.getByRole("status").textContent).toBe("Question 2 of 2");
  await userEvent.click(screen.getByText("The one before"));
  expect(screen.getByText("smell: yes").getAttribute("aria-pressed")).toBe("true");
  await userEvent.click(screen.getByText("smell: no"));
  await userEvent.click(screen.getByText("clear: yes"));
  expect(screen.getByText("Glasses")).toBeTruthy();
  await userEvent.click(screen.getByText("sound: yes"));
  await userEvent.click(screen.getByText("That is how it is"));
  expect(onAnswer).toHaveBeenCalledWith({ smell: "bad", clear: "good", sound: "good" });
});

test("with room all stand side by side, and nothing is sent before each that decides is answered", async () => {
  wide(false);
  const onAnswer = vi.fn();
  shown(onAnswer);
  expect(screen.getByText("clear?")).toBeTruthy();
  const send = screen.getByText("That is how it is");
  expect(send).toHaveProperty("disabled", true);
  await userEvent.click(screen.getByText("smell: yes"));
  await userEvent.click(screen.getByText("clear: no"));
  await userEvent.click(screen.getByText("sound: yes"));
  await userEvent.click(screen.getByText("sound: yes"));
  await userEvent.click(send);
  expect(onAnswer).toHaveBeenCalledWith({ smell: "good", clear: "bad" });
});
