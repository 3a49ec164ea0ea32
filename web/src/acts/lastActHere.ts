/** Whether the last act of a clean was done on this device: whoever comes after somebody else is asked what is in the brewer. */

const place = (clean: string) => `murlo:last-act:${clean}`;

export const rememberActHere = (clean: string, event: string) => localStorage.setItem(place(clean), event);

export const wasHere = (clean: string, last: string | null | undefined) =>
  !last || localStorage.getItem(place(clean)) === last;
