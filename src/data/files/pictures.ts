/** Pictures turned upright, without what a camera notes of place and time, in three sizes. What is no picture is told so. */
import sharp from "sharp";
import { err, ok, type Result } from "@/core/result";

/** Pixels that a picture may have: a small file can unpack to a memory full of them. */
const MOST_PIXELS = 60_000_000;
const SECONDS = 30;
export const PICTURE_SIZES = { small: 160, middle: 640, large: 1600 } as const;
export type PictureSize = keyof typeof PICTURE_SIZES;

export const PICTURE_TYPES = ["image/jpeg", "image/png", "image/webp", "image/gif"];

export interface Prepared {
  readonly width: number;
  readonly height: number;
  readonly original: Buffer;
  readonly sizes: Readonly<Record<PictureSize, Buffer>>;
}

sharp.cache(false);
sharp.concurrency(1);

/** `path` is of a file whose content says that it is of a picture's type. */
export async function preparePicture(path: string, type: string): Promise<Result<Prepared, string>> {
  const open = () =>
    sharp(path, { limitInputPixels: MOST_PIXELS, failOn: "error", animated: type === "image/gif" || type === "image/webp" });
  try {
    const { width = 0, height = 0 } = await open().metadata();
    if (width * height > MOST_PIXELS) return err(tooMany);
    const upright = open().autoOrient().timeout({ seconds: SECONDS });
    const original = await (type === "image/jpeg" ? upright.jpeg({ quality: 90 }) : upright).toBuffer({ resolveWithObject: true });
    const size = async (box: number): Promise<Buffer> =>
      await sharp(original.data, { limitInputPixels: MOST_PIXELS })
        .resize({ width: box, height: box, fit: "inside", withoutEnlargement: true })
        .timeout({ seconds: SECONDS })
        .webp({ quality: 80 })
        .toBuffer();
    const sizes = {
      small: await size(PICTURE_SIZES.small),
      middle: await size(PICTURE_SIZES.middle),
      large: await size(PICTURE_SIZES.large),
    };
    const { width: w, pageHeight, height: h } = original.info as { width: number; height: number; pageHeight?: number };
    return ok({ width: w, height: pageHeight ?? h, original: original.data, sizes });
  } catch (e) {
    const words = e instanceof Error ? e.message : "";
    return err(
      /pixel limit|exceeds/i.test(words) ? tooMany : "This picture is damaged, or takes too long to read. Save it again and choose that.",
    );
  }
}
const tooMany = "This picture has more than 60 million points. Make it smaller and choose it again.";
