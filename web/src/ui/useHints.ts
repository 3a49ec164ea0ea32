import { useQuery } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { queries } from "../api/queries";

const us = {
  volume: "4 cups, 50 fl oz, 11 marks",
  mark: "Fill one to see: often 5 fl oz",
  sizes: "8 fl oz, 10 fl oz",
  reservoir: "48 fl oz",
  carafe: "10 marks, 54 fl oz",
  cup: "8 fl oz",
};
const metric: typeof us = {
  volume: "1.2 L, 900 mL, 11 marks",
  mark: "Fill one to see: often 150 mL",
  sizes: "150 mL, 200 mL",
  reservoir: "1.4 L",
  carafe: "10 marks, 1.6 L",
  cup: "235 mL",
};
const hints: Record<Schemas["Units"], typeof us> = { us, metric };

/** Examples of what may be typed, in the household's own units. */
export const useHints = () => hints[useQuery(queries.household()).data?.settings.units ?? "metric"];
