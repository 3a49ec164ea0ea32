/** What has the keys to itself while it is open or focused: typing, choosing, reading a dialog. */
const takesKeys =
  "input, textarea, select, [contenteditable=true], [role=combobox], [role=listbox], [role=option], [role=menu], [role=menuitem], [role=slider], [role=spinbutton], [role=radio], [role=tab]";
const open = "[role=dialog], [role=listbox], [role=menu]";

type Pressed = Pick<KeyboardEvent, "repeat" | "ctrlKey" | "metaKey" | "altKey" | "defaultPrevented" | "target">;

/** Whether a single key may act on the page: pressed once, with nothing open that takes keys, in a household that wants it. */
export function mayAct(event: Pressed, keysOff: boolean, page: ParentNode = document): boolean {
  if (keysOff) return false;
  if (event.repeat || event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return false;
  const target = event.target instanceof Element ? event.target : null;
  return !target?.closest(takesKeys) && !page.querySelector(open);
}
