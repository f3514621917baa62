/** What goes in and out of the HTTP API. The handlers parse with these or answer in their types, and the document is made from them. */
import { extendZodWithOpenApi } from "@asteasolutions/zod-to-openapi";
import { z } from "zod";
import { ACTIONS } from "@/core/access/rules";

extendZodWithOpenApi(z);

export const credentialsBody = z.strictObject({
  email: z.string().max(300),
  password: z.string().max(1_000),
  code: z.string().max(100).optional(),
});
export const fieldsBody = z.strictObject({ fields: z.record(z.string().max(100), z.unknown()) });

/** RFC 9457: further members may be added. */
export const problem = z.looseObject({
  type: z.string(),
  title: z.string(),
  status: z.int(),
  detail: z.string(),
  errors: z.array(z.strictObject({ field: z.string(), message: z.string() })).optional(),
});

export const exportAnswer = z.strictObject({
  id: z.string(),
  state: z.enum(["running", "done", "failed"]),
  bytes: z.int().nullable(),
  until: z.iso.datetime().describe("From when on it is gone."),
  file: z.string().nullable().describe("Where it can be had, once it is done."),
});
export type ExportAnswer = z.infer<typeof exportAnswer>;

const person = z.strictObject({ id: z.string(), name: z.string(), email: z.string() });
/** Null for the agency itself. */
const company = z.strictObject({ id: z.string(), name: z.string().nullable(), slug: z.string().nullable() }).nullable();
const role = z.strictObject({ id: z.string(), name: z.string() });

export const sessionAnswer = z.strictObject({
  person,
  company,
  roles: z.array(role),
  passwordNeeded: z.boolean().describe("The password was a temporary one: until another is chosen, everything answers password-needed."),
});
export type SessionAnswer = z.infer<typeof sessionAnswer>;

export const meAnswer = z.strictObject({
  /** Null of a key of a role, which is nobody. */
  person: person.nullable(),
  company,
  memberships: z.array(z.strictObject({ id: z.string(), company, roles: z.array(role) })),
  roles: z.array(role),
  features: z.array(z.string()),
  allowances: z.array(z.strictObject({ table: z.string(), limit: z.int(), used: z.int(), beside: z.int(), again: z.iso.date() })),
});
export type MeAnswer = z.infer<typeof meAnswer>;

export const tablesAnswer = z.strictObject({
  tables: z.array(
    z.strictObject({
      slug: z.string(),
      name: z.string(),
      actions: z.array(z.enum(ACTIONS)),
      fields: z.array(
        z.strictObject({ slug: z.string(), name: z.string(), type: z.string(), actions: z.array(z.enum(["see", "change"])) }),
      ),
    }),
  ),
});
export type TablesAnswer = z.infer<typeof tablesAnswer>;

const money = z.strictObject({ amount: z.int().describe("Minor units."), currency: z.string() });
export const plansAnswer = z.strictObject({
  standing: z
    .strictObject({ plan: z.string().nullable(), state: z.string(), until: z.iso.date().nullable(), features: z.array(z.string()) })
    .nullable()
    .describe("What the viewer's company has; null of visitors and of the agency."),
  plans: z.array(
    z.strictObject({
      id: z.string(),
      name: z.string(),
      features: z.array(z.string()),
      prices: z.array(z.strictObject({ id: z.string(), cycle: z.string(), per: z.enum(["company", "seat"]), price: money })),
    }),
  ),
});
export type PlansAnswer = z.infer<typeof plansAnswer>;

export const companyAnswer = z.strictObject({
  seats: z.strictObject({ used: z.int(), all: z.int().nullable() }),
  gives: z.array(role).describe("Roles that the viewer may give."),
  people: z.array(
    z.strictObject({
      membership: z.string(),
      name: z.string(),
      email: z.string(),
      roles: z.array(role),
      status: z.string(),
      yours: z.boolean().describe("Whether the viewer may change what they are."),
    }),
  ),
});
export type CompanyAnswer = z.infer<typeof companyAnswer>;
export const invitationBody = z.strictObject({ name: z.string().max(300), email: z.string().max(300), role: z.string().max(100) });
export const rolesBody = z.strictObject({ roles: z.array(z.string().max(100)).max(100) });
export const fileAnswer = z.strictObject({ id: z.string().describe("For a record's field."), bytes: z.int() });

const fields = z.record(z.string().max(100), z.unknown());
const id = z.string().max(100);
const ifMatch = z.string().max(500).optional();
/** One of several writes; `ifMatch` is as the header of the same name. */
const bulkWrite = z.discriminatedUnion("do", [
  z.strictObject({ do: z.literal("add"), fields }),
  z.strictObject({ do: z.literal("change"), id, fields, ifMatch }),
  z.strictObject({ do: z.literal("remove"), id, ifMatch }),
]);
export type BulkWrite = z.infer<typeof bulkWrite>;
export const bulkBody = z.strictObject({
  writes: z.array(bulkWrite).min(1).max(1_000),
  all: z.boolean().default(false).describe("Whether none of them is to stay where one is refused."),
});
const bulkResult = z.strictObject({
  status: z.int().describe("As the write alone would have been answered; 424 where it was not kept since another was refused."),
  id: z.string().optional(),
  problem: z
    .strictObject({
      type: z.string(),
      detail: z.string(),
      errors: z.array(z.strictObject({ field: z.string(), message: z.string() })).optional(),
    })
    .optional(),
});
export type BulkResult = z.infer<typeof bulkResult>;
export const bulkAnswer = z.strictObject({ results: z.array(bulkResult) });

export const changesAnswer = z.strictObject({
  changes: z.array(
    z.discriminatedUnion("kind", [
      z.strictObject({ kind: z.literal("record"), id: z.string(), fields: z.record(z.string(), z.unknown()) }),
      z.strictObject({ kind: z.literal("left"), id: z.string() }).describe("Removed, or out of sight: for the viewer it is the same."),
      z.strictObject({ kind: z.literal("many") }).describe("Very many at once, such as by an import: read the table anew."),
    ]),
  ),
  next: z.string().describe("Where the next question begins."),
  more: z.boolean().describe("Whether to ask again at once."),
});
export type ChangesAnswer = z.infer<typeof changesAnswer>;
