/** Logos and pictures of the sign-in page: drawn formats and photographs are turned into pixels once, and kept with the portal. */
import { createHash } from "node:crypto";
import { eq } from "drizzle-orm";
import sharp from "sharp";
import type { Owner } from "@/core/access/who/viewer";
import { err, ok, type Result } from "@/core/result";
import type { PortalFile } from "../file/open";
import { brandPictures } from "../file/portal-tables";

/** As they come; what is kept is much smaller. */
export const MOST_BRAND_BYTES = 12_000_000;
/** 8,000 by 8,000 and a little more: beyond that a picture is a way to fill memory. */
const MOST_PIXELS = 70_000_000;
const SIZES = { logo: { width: 480, height: 160 }, picture: { width: 1600, height: 1600 } } as const;

export interface BrandPicture {
  readonly hash: string;
  readonly width: number;
  readonly height: number;
}

/** An SVG is drawn here, where nothing of it is ever run or fetched (librsvg loads nothing from outside); its pixels alone are kept. */
export async function keepBrandPicture(
  file: PortalFile,
  owner: Owner,
  what: keyof typeof SIZES,
  bytes: Buffer,
): Promise<Result<BrandPicture, string>> {
  if (bytes.length === 0) return err("Choose a picture.");
  if (bytes.length > MOST_BRAND_BYTES) return err("A picture has 12 MB at the most.");
  try {
    const { data, info } = await sharp(bytes, { limitInputPixels: MOST_PIXELS, density: 144, failOn: "error" })
      .rotate()
      .resize({ ...SIZES[what], fit: "inside", withoutEnlargement: true })
      .timeout({ seconds: 30 })
      .webp({ quality: 88 })
      .toBuffer({ resolveWithObject: true });
    const hash = createHash("sha256").update(data).digest("hex");
    file.orm
      .insert(brandPictures)
      .values({ hash, type: "image/webp", width: info.width, height: info.height, bytes: data, at: owner.now })
      .onConflictDoNothing()
      .run();
    return ok({ hash, width: info.width, height: info.height });
  } catch (e) {
    return err(
      /pixel limit/i.test(String(e))
        ? "This picture is larger than 70 million pixels (8,000 by 8,000 is well). Make it smaller first."
        : "This is no picture that can be read here. PNG, JPEG, WebP, GIF, AVIF and SVG can.",
    );
  }
}

/** What it is on a page, without its bytes. */
export const brandPicture = (file: PortalFile, hash: string | null): BrandPicture | undefined =>
  hash === null
    ? undefined
    : file.orm
        .select({ hash: brandPictures.hash, width: brandPictures.width, height: brandPictures.height })
        .from(brandPictures)
        .where(eq(brandPictures.hash, hash))
        .get();

/** A picture of the brand by the hash of its content; undefined where the portal has none such. */
export const brandBytes = (file: PortalFile, hash: string): { type: string; bytes: Buffer } | undefined =>
  file.orm.select({ type: brandPictures.type, bytes: brandPictures.bytes }).from(brandPictures).where(eq(brandPictures.hash, hash)).get();

/** Copies the pictures that `words` names from one portal into another of the same agency. */
export function copyPictures(from: PortalFile, to: PortalFile, words: string): void {
  for (const [, hash] of words.matchAll(/"hash":"([0-9a-f]{64})"/g)) {
    const row = from.orm.select().from(brandPictures).where(eq(brandPictures.hash, hash!)).get();
    if (row) to.orm.insert(brandPictures).values(row).onConflictDoNothing().run();
  }
}
