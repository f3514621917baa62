/** The portal itself: what it is called, and its formats. */
import { z } from "zod";
import type { Part } from "../part";
import { name } from "./shared";

const shape = z.strictObject({
  portal: z.strictObject({ name, locale: z.string().max(20), timeZone: z.string().max(60), currency: z.string().length(3) }),
});

export const portalPart: Part<z.infer<typeof shape>> = { name: "portal", shape, migrations: [], problems: () => [] };
