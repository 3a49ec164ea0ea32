import type { Schemas } from "../api/client";

/** Whether this device can speak. */
export const canSpeak = "speechSynthesis" in window;

/** Reads a step to somebody with wet hands: the act, what to do, cautions, how to know it is right. */
export function readAloud(step: Schemas["Step"]) {
  const lines = [step.title, step.figure ?? "", ...step.what, ...step.cautions.map((c) => c.text), step.check];
  window.speechSynthesis.cancel();
  window.speechSynthesis.speak(new SpeechSynthesisUtterance(lines.filter(Boolean).join(". ")));
}
