/** "1,234" may be a thousand or little more than one: it is sent as it stands, and refused. */
const ambiguous = /^\s*[1-9]\d{0,2},\d{3}\s*$/;

/** A number as typed. What is none is sent as it stands: the server then names the field and says what would be right. */
export function typed(text: string): number {
  const value = Number(text.replace(",", "."));
  const unread = text.trim() === "" || Number.isNaN(value) || ambiguous.test(text);
  return unread ? (text as unknown as number) : value;
}

/** The same where the field may be left empty. */
export const typedOrNone = (text: string): number | null => (text.trim() === "" ? null : typed(text));

/** A share or strength, with its sign or without. */
export const typedPercent = (text: string): number | null => typedOrNone(text.replace(/\s*%\s*$/, ""));
