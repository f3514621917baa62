/** Photographs are made smaller before they are sent: what is kept of them is no larger, and a form takes 2 MB. */
const SMALL = 1_000_000;
const MOST_SIDE = 2_000;

/** The file itself where it is small, or no picture that this browser reads: then the server says what is wrong with it. */
export async function smallerPicture(file: File): Promise<Blob> {
  if (file.size <= SMALL) return file;
  try {
    const picture = await createImageBitmap(file);
    const scale = Math.min(1, MOST_SIDE / Math.max(picture.width, picture.height));
    const canvas = document.createElement("canvas");
    canvas.width = Math.max(1, Math.round(picture.width * scale));
    canvas.height = Math.max(1, Math.round(picture.height * scale));
    canvas.getContext("2d")?.drawImage(picture, 0, 0, canvas.width, canvas.height);
    picture.close();
    const smaller = await new Promise<Blob | null>((done) => canvas.toBlob(done, "image/webp", 0.92));
    return smaller && smaller.size < file.size ? smaller : file;
  } catch {
    return file;
  }
}

/** Bytes of a form that is sent; a larger one is refused before it is read. */
export const MOST_SENT = 1_900_000;
