/** A record filter as its author wrote it: a tree of tests whose values may speak of the viewer or of today. */
import { z } from "zod";
import { OPERATORS } from "./operators";

/** In a path's last place: the record reached, itself. Sites may so be "one of the person's sites". */
export const SELF = "self";

const scalar = z.union([z.string().max(4000), z.number(), z.boolean()]);

export const dateAnchor = z.enum(["today", "start of week", "start of month", "start of year", "now"]);
export const operandSchema = z.union([
  z.strictObject({ kind: z.literal("literal"), value: z.union([scalar, z.array(scalar).max(10_000)]) }),
  /** The viewer's own id, company id, or a field of either; or the ids of the records that were bought one by one. */
  z.strictObject({ kind: z.literal("viewer"), of: z.enum(["person", "company", "bought"]), field: z.string().nullable() }),
  /** `days` is added to the anchor; negative is in the past. */
  z.strictObject({
    kind: z.literal("date"),
    anchor: dateAnchor,
    days: z.int().min(-36600).max(36600),
    /** For fields with a time: the moment at which that day begins in the portal's zone; only so may it be "now". */
    instant: z.literal(true).optional(),
  }),
]);
export type Operand = z.infer<typeof operandSchema>;

export const testSchema = z.strictObject({
  kind: z.literal("test"),
  /** Field ids: up to three relation hops, then the field tested. */
  path: z.array(z.string()).min(1).max(4),
  operator: z.enum(OPERATORS),
  /** No operand for emptiness, two for "between", otherwise one. */
  operands: z.array(operandSchema).max(2),
});
export type Test = z.infer<typeof testSchema>;

export type Condition = Test | { kind: "all"; of: Condition[] } | { kind: "any"; of: Condition[] } | { kind: "not"; of: Condition };

export const conditionSchema: z.ZodType<Condition> = z.lazy(() =>
  z.union([
    testSchema,
    z.strictObject({ kind: z.literal("all"), of: z.array(conditionSchema).max(50) }),
    z.strictObject({ kind: z.literal("any"), of: z.array(conditionSchema).max(50) }),
    z.strictObject({ kind: z.literal("not"), of: conditionSchema }),
  ]),
);

/** Every test of a tree, in reading order. */
export function testsOf(c: Condition | null): Test[] {
  if (!c) return [];
  return c.kind === "test" ? [c] : c.kind === "not" ? testsOf(c.of) : c.of.flatMap(testsOf);
}

/** Depth is bounded where a condition enters, so that no reader can be made to recurse without end. */
export function depthOf(c: Condition): number {
  return c.kind === "test" ? 1 : 1 + (c.kind === "not" ? depthOf(c.of) : Math.max(0, ...c.of.map(depthOf)));
}
