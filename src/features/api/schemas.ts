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
