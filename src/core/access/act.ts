/**
 * Acts: named things to do with a record, or by adding one, that set fields to what was settled beforehand. A grant opens them like
 * the five actions; what an act sets needs no `changes`, and is set by no other way unless `changes` lists it.
 */
import { z } from "zod";
import { operandSchema } from "../schema/condition";

export const MOST_ACTS = 200;

/** `add` makes a record; `change` is done to one that is seen; `talk` is reading and writing in its conversation, and
 * sets nothing; `accept` is done to one as it stands, and keeps who accepted which version of it. */
export const actSchema = z.strictObject({
  id: z.string().regex(/^[a-z][a-z0-9_-]{0,60}$/),
  name: z.string().trim().min(1, "Give the act a name.").max(80, "Keep the name under 80 characters."),
  table: z.string(),
  on: z.enum(["add", "change", "talk", "accept"]),
  /** Field ids with what they are set to: a literal, something of the viewer, or a date. */
  sets: z.array(z.strictObject({ field: z.string(), to: operandSchema })).max(20),
  /** Field ids that make up a version: what is accepted, for `accept` alone. */
  accepts: z.array(z.string()).min(1, "Choose what is accepted.").max(50).optional(),
});
export type Act = z.infer<typeof actSchema>;
