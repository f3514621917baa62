"use server";
/** The brand in the draft: kept as it is changed, step by step. */
import { z } from "zod";
import { brandSchema } from "@/core/definition/parts/brand";
import { originSchema } from "@/core/pages/page";
import { draftAction } from "@/office/action";

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

const look = z.object({
  brand: brandSchema,
  portal: portalSchema,
  frames: z.array(originSchema).max(20, "Twenty sites at the most."),
});

export const keepBrand = draftAction("build", [look], (_, { brand, portal, frames }) => ({
  what: "the brand",
  edit: (d) => ({ ...d, brand, frames, portal: { ...d.portal, ...portal } }),
}));
