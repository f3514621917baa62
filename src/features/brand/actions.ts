"use server";
/** The brand in the draft: kept as it is changed, step by step. */
import { z } from "zod";
import { brandSchema } from "@/core/definition/parts/brand";
import { originSchema } from "@/core/pages/page";
import { officePortalWrite } from "@/identity/requests/office-gate";
import { changeInDraft, type DraftAnswer } from "@/office/draft";

const portalSchema = z.strictObject({
  name: z.string().trim().min(1, "Give the portal a name.").max(80, "Keep the name under 80 characters."),
  locale: z
    .string()
    .max(20)
    .refine((l) => safely(() => new Intl.Locale(l)), "This language is not known."),
  timeZone: z
    .string()
    .max(60)
    .refine((zone) => safely(() => new Intl.DateTimeFormat("en", { timeZone: zone })), "This time zone is not known."),
});

function safely(what: () => unknown): boolean {
  try {
    what();
    return true;
  } catch {
    return false;
  }
}

export async function keepBrand(slug: string, revision: number, input: unknown): Promise<DraftAnswer> {
  const p = await officePortalWrite(slug, "build");
  const parsed = z
    .object({ brand: brandSchema, portal: portalSchema, frames: z.array(originSchema).max(20, "Twenty sites at the most.") })
    .safeParse(input);
  if (!parsed.success || !Number.isSafeInteger(revision))
    return {
      ok: false,
      messages: [...new Set(parsed.error?.issues.map((i) => i.message) ?? ["This could not be read. Load the page again."])],
    };
  const { brand, portal, frames } = parsed.data;
  return changeInDraft(p, revision, (d) => ({ ...d, brand, frames, portal: { ...d.portal, ...portal } }), "the brand");
}
