/** What the title is made of: the page, a clock that runs on it, and above all a clean that calls. */
const parts = { page: "", clock: "", call: "" };

/** Sets one part of the title; empty takes it away. */
export function setTitle(part: keyof typeof parts, text: string) {
  parts[part] = text;
  const shown = parts.call || parts.clock || parts.page;
  document.title = shown ? `${shown} – Murlo` : "Murlo";
}
