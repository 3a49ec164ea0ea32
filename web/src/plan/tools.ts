import type { Schemas } from "../api/client";

/** What people measure with, in their words. */
export const tools: Record<Schemas["Tool"], string> = {
  cups: "Measuring cups",
  fl_oz: "Jug in fl oz",
  ml: "Jug in mL",
  carafe_marks: "The carafe's marks",
  reservoir_lines: "The reservoir's lines",
  bottle: "The bottle itself",
};
