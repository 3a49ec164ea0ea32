/** "1:05:09" or "24:59" from whole seconds. */
export function clockText(seconds: number): string {
  const two = (n: number) => String(n).padStart(2, "0");
  const hours = Math.trunc(seconds / 3600);
  const minutes = Math.trunc(seconds / 60) % 60;
  return hours > 0 ? `${hours}:${two(minutes)}:${two(seconds % 60)}` : `${minutes}:${two(seconds % 60)}`;
}
