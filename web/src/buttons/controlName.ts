import type { Schemas } from "../api/client";

export const kinds: [Schemas["ControlKind"], string][] = [
  ["button", "Button"],
  ["lit_button", "Button that lights"],
  ["lever", "Lever or lid"],
  ["lamp", "Lamp"],
];
export const shapes: [Schemas["ControlShape"], string][] = [
  ["round", "Round"],
  ["square", "Square"],
  ["wide", "Wide"],
];

/** A button or lamp as it is read aloud. */
export function controlName({ kind, shape, word, x }: Schemas["Control"]): string {
  const what = kinds.find(([one]) => one === kind)?.[1] ?? "";
  const look = shapes.find(([one]) => one === shape)?.[1] ?? "";
  const place = x < 1 / 3 ? "on the left" : x < 2 / 3 ? "in the middle" : "on the right";
  return word ? `${what} ${word}` : `${look} ${what.toLowerCase()} ${place}`;
}

/** What is done to each, in short, to stand on it: "1", "2 · 3 s". */
export function inOrder(touches: Schemas["Touch"][]): Record<string, string> {
  const order: Record<string, string> = {};
  touches.forEach((touch, n) => {
    const held = touch.hold_seconds ? ` · ${Math.round(touch.hold_seconds)} s` : "";
    for (const id of touch.controls) {
      const does = `${n + 1}${held}`;
      order[id] = order[id] ? `${order[id]}, ${does}` : does;
    }
  });
  // A single press needs no number.
  if (touches.length === 1 && !touches[0]?.hold_seconds) for (const id of Object.keys(order)) order[id] = "press";
  return order;
}
