/** How the portal looks and speaks of itself. */
import { z } from "zod";
import type { Part } from "../part";

const colour = z.string().regex(/^#[0-9a-fA-F]{6}$/, "Write the colour as #RRGGBB.");
const shape = z.strictObject({
  brand: z.strictObject({
    colour,
    ground: colour,
    monogram: z.string().min(1).max(3),
    motto: z.string().max(120),
    contact: z.string().max(120),
  }),
});

export const brandPart: Part<z.infer<typeof shape>> = { name: "brand", shape, migrations: [], problems: () => [] };
