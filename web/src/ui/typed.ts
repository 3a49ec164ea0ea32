/** A number as typed. What is none is sent as it stands: the server then names the field and says what would be right. */
export function typed(text: string): number {
  const value = Number(text.replace(",", "."));
  return text.trim() === "" || Number.isNaN(value) ? (text as unknown as number) : value;
}

/** The same where the field may be left empty. */
export const typedOrNone = (text: string): number | null => (text.trim() === "" ? null : typed(text));
