import { keepShown } from "./keepShown";
import type { paths } from "./schema";

/** An address that is asked, and what it answers. */
type Asked = "/api/session" | "/api/household" | "/api/counter";
type Answer<P extends Asked> = paths[P]["get"]["responses"][200]["content"]["application/json"];

/** What came with the page, so that its view need not ask: answers by their addresses, and how many changes the household had told by then. */
interface Told {
  changes: number;
  answers: Record<string, unknown>;
}

/** How long what came with a page may stand in for an answer, in ms: changes are heard of from about then on. */
const KEPT_MS = 15_000;

function read(): Told | undefined {
  const text = typeof document === "undefined" ? undefined : document.getElementById("told")?.textContent;
  return text ? JSON.parse(text) : undefined;
}

const told = read();

/** From where on changes are to be heard, where the page came with answers. */
export const changesTold = told?.changes;

/** The answer that came with the page to this address, once. */
export function takeTold(address: string, among = told, now = performance.now()): unknown {
  if (!among || now > KEPT_MS) return undefined;
  if (!Object.hasOwn(among.answers, address)) return undefined;
  const answer = among.answers[address];
  delete among.answers[address];
  // A page opened later without a line shows it too.
  keepShown(address, answer);
  return answer;
}

/** The same for who keeps what was asked; it is what the household's document says. */
export function keepTold<P extends Asked>(address: P, keep: (answer: Answer<P>) => void) {
  const answer = takeTold(address);
  if (answer !== undefined) keep(answer as Answer<P>);
}
