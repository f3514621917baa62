import { desc } from "drizzle-orm";
import type { Owner } from "@/core/access/who/viewer";
import { actorOf } from "@/core/events/event";
import { CLOSED, type Joining, joiningShape } from "@/core/joining/joining";
import { err, ok, type Result } from "@/core/result";
import { holdsFiles, isAutomatic, isRelation } from "@/core/schema/fields/natures";
import { type Field, kindOf } from "@/core/schema/types";
import { published } from "@/data/definition/published";
import { record } from "@/data/events/record";
import type { PortalFile } from "@/data/file/open";
import { terms } from "@/data/file/portal-tables";
import { keepSetting, settingOf } from "@/data/file/settings";
import { transact } from "@/data/file/transact";
import { schemaOf } from "@/data/tables/read";

/** Who may join by themselves, as the owner set it. */
export function joining(file: PortalFile): Joining {
  return settingOf(file, "joining", joiningShape, CLOSED);
}

/** A sentence where the settings are not sound. */
export function keepJoining(file: PortalFile, owner: Owner, given: unknown): Result<Joining, string> {
  const parsed = joiningShape.safeParse(given);
  if (!parsed.success) return err(parsed.error.issues[0]?.message ?? "This could not be read.");
  const s = parsed.data;
  if (s.who === "domains" && s.domains.length === 0) return err("Name the domains whose people may join.");
  const { roles } = published(file).definition;
  const client = (id: string | null) => id === null || roles.some((r) => r.id === id && r.side === "client" && !r.companyId);
  if (!client(s.lead) || !client(s.member)) return err("Give roles of clients to who joins.");
  if (s.who !== "nobody" && s.who !== "known" && !s.lead && s.kinds.some((k) => k !== "member"))
    return err("Say which role is given to who brings a company.");
  const schema = schemaOf(file);
  const askable = new Set(joinFields(schema).map((f) => f.id));
  for (const id of [...s.fields, ...Object.keys(s.fixed)])
    if (!askable.has(id)) return err("A field that was picked is gone. Load the page anew.");
  for (const [id, words] of Object.entries(s.fixed)) {
    const field = joinFields(schema).find((f) => f.id === id)!;
    const read = kindOf(field).parse([words], field, { timeZone: "UTC" });
    if (!read.ok) return err(`${field.name}: ${read.error}`);
  }
  transact(file, () => {
    keepSetting(file, "joining", s);
    const last = latestTerms(file);
    if (s.terms !== (last?.body ?? ""))
      file.orm
        .insert(terms)
        .values({ version: (last?.version ?? 0) + 1, body: s.terms, at: owner.now })
        .run();
    record(file, { actor: actorOf(owner), via: "page", at: owner.now, kind: "joining-changed" });
  });
  return ok(s);
}

/** The newest version of the terms; undefined where there are none. */
export const latestTerms = (file: PortalFile) => file.orm.select().from(terms).orderBy(desc(terms.version)).limit(1).get();

/** What a form may ask strangers for: plain fields of people and companies, none that a wall, a key or the system goes by. */
export const joinFields = (schema: ReturnType<typeof schemaOf>) =>
  [...schema.people.fields, ...schema.companies.fields].filter((f) => !f.system && !NEVER.has(f.id) && !isUnasked(f));
const NEVER = new Set(["f_person_name", "f_company_name"]);
const isUnasked = (f: Field): boolean => isRelation(f) || holdsFiles(f) || isAutomatic(f);
