/** Longest side of a photo that is sent, pixels: enough to tap two glasses, or to read small print. */
export const glassSide = 960;
export const pageSide = 1600;
/** Half the width of the patch that is averaged around a tap, pixels. */
const patch = 4;

const unreadable = "this picture cannot be read: take a JPEG or PNG";

/** The picture drawn anew and small: only its pixels are sent, no place, device or time. */
export async function shrunk(file: Blob, side: number): Promise<{ blob: Blob; canvas: HTMLCanvasElement }> {
  const picture = await createImageBitmap(file, { imageOrientation: "from-image" }).catch(() => {
    throw new Error(unreadable);
  });
  const scale = Math.min(1, side / Math.max(picture.width, picture.height));
  const canvas = document.createElement("canvas");
  canvas.width = Math.max(1, Math.round(picture.width * scale));
  canvas.height = Math.max(1, Math.round(picture.height * scale));
  canvas.getContext("2d")?.drawImage(picture, 0, 0, canvas.width, canvas.height);
  const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, "image/jpeg", 0.85));
  if (!blob) throw new Error(unreadable);
  return { blob, canvas };
}

/** The mean colour around a tap, given as shares of width and height. */
export function colourAt(canvas: HTMLCanvasElement, x: number, y: number): [number, number, number] {
  const left = Math.min(Math.max(0, Math.round(x * canvas.width) - patch), Math.max(0, canvas.width - 2 * patch - 1));
  const top = Math.min(Math.max(0, Math.round(y * canvas.height) - patch), Math.max(0, canvas.height - 2 * patch - 1));
  const data = canvas.getContext("2d")?.getImageData(left, top, 2 * patch + 1, 2 * patch + 1).data ?? [];
  const sum = [0, 0, 0];
  for (let i = 0; i + 3 < data.length; i += 4) for (const c of [0, 1, 2]) sum[c] = (sum[c] ?? 0) + (data[i + c] ?? 0);
  const pixels = Math.max(1, data.length / 4);
  return [(sum[0] ?? 0) / pixels, (sum[1] ?? 0) / pixels, (sum[2] ?? 0) / pixels];
}
