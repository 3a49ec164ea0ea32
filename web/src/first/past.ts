import type { Schemas } from "../api/client";

/** What people remember of a brewer's past, in the order it is offered. */
export const lastCleans: [Schemas["LastClean"], string][] = [
  ["never", "Never"],
  ["over_a_year", "Over a year ago"],
  ["half_a_year", "Half a year ago"],
  ["three_months", "Three months ago"],
  ["lately", "Lately"],
  ["unknown", "Don’t know"],
];
export const ages: [Schemas["InUse"], string][] = [
  ["new", "It is new"],
  ["months", "Some months"],
  ["years", "One to three years"],
  ["longer", "Longer"],
  ["unknown", "Don’t know"],
];
