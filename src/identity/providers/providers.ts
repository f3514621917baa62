/** Providers of identity: registered by the agency alone, each bound to the domains whose people it may speak for. */
import { and, eq } from "drizzle-orm";
import { z } from "zod";
import { config } from "@/config";
import type { Owner } from "@/core/access/who/viewer";
import { actorOf } from "@/core/events/event";
import { joinEmail } from "@/core/joining/joining";
import { err, ok, type Result } from "@/core/result";
import { record } from "@/data/events/record";
import { newId } from "@/data/file/ids";
import type { PortalFile } from "@/data/file/open";
import { outside, providers } from "@/data/file/portal-tables";
import { transact } from "@/data/file/transact";
import { personIdByEmail } from "@/data/people/people";
import { seal, unseal } from "../secrets/secrets";
import { certificateIn, metadataIn } from "./saml-metadata";

export type Provider = Omit<typeof providers.$inferSelect, "kind" | "secret"> & { readonly kind: "oidc" | "saml" };

const https = z.url({ protocol: /^https?$/, error: "Write an address that begins with https://." }).refine((a) => {
  const { protocol, hostname } = new URL(a);
  // This machine's own services are asked only where Elkhorn itself is tried out without https.
  return protocol === "https:" || (!config().secure && (hostname === "localhost" || hostname === "127.0.0.1"));
}, "Write an address that begins with https://.");

const domain = z.string().regex(/^(?!-)[a-z0-9-]{1,63}(?:\.[a-z0-9-]{1,63})+$/, "Write domains such as client.example, without @.");
const common = {
  name: z.string().trim().min(1, "Give it a name.").max(80, "Keep the name under 80 characters."),
  domains: z.array(domain).min(1, "Name the domains whose people it speaks for.").max(100),
};
const given = z.discriminatedUnion("kind", [
  z.object({
    ...common,
    kind: z.literal("oidc"),
    issuer: https,
    client: z.string().trim().min(1, "Write the client's id.").max(300),
    secret: z.string().max(1_000),
  }),
  z.object({ ...common, kind: z.literal("saml"), metadata: z.string().trim().min(1, "Paste the provider's metadata.").max(300_000) }),
]);

/** Its id, or which field is wrong and why. */
export function addProvider(file: PortalFile, owner: Owner, asked: unknown): Result<{ id: string }, { field: string; message: string }> {
  const parsed = given.safeParse(asked);
  if (!parsed.success) {
    const [issue] = parsed.error.issues;
    return err({ field: String(issue?.path[0] ?? ""), message: issue?.message ?? "This could not be read." });
  }
  const p = parsed.data;
  let settings: Record<string, string>;
  if (p.kind === "oidc") settings = { issuer: p.issuer, client: p.client };
  else {
    const read = metadataIn(p.metadata);
    if (!read.ok) return err({ field: "metadata", message: read.error });
    settings = { ...read.value };
  }
  const id = newId();
  const secret = p.kind === "oidc" && p.secret ? seal(file.id, "provider", p.secret) : null;
  transact(file, () => {
    file.orm
      .insert(providers)
      .values({ id, kind: p.kind, name: p.name, domains: [...new Set(p.domains)], settings, secret, madeAt: owner.now })
      .run();
    record(file, { actor: actorOf(owner), via: "page", at: owner.now, kind: "provider-registered", detail: p.name });
  });
  return ok({ id });
}

/** Removes a provider. Whoever came in by it uses their other doors from then on. */
export function removeProvider(file: PortalFile, owner: Owner, id: string): void {
  transact(file, () => {
    const gone = file.orm.delete(providers).where(eq(providers.id, id)).returning({ name: providers.name }).get();
    file.orm.delete(outside).where(eq(outside.providerId, id)).run();
    if (gone) record(file, { actor: actorOf(owner), via: "page", at: owner.now, kind: "provider-removed", detail: gone.name });
  });
}

/** The organisations by which people of a portal may sign in. */
export const providersOf = (file: PortalFile): Provider[] =>
  file.orm
    .select({
      id: providers.id,
      kind: providers.kind,
      name: providers.name,
      domains: providers.domains,
      settings: providers.settings,
      madeAt: providers.madeAt,
    })
    .from(providers)
    .orderBy(providers.name)
    .all()
    .map((p) => ({ ...p, kind: p.kind as Provider["kind"] }));

/** One of the portal's providers; undefined where it has none such. */
export const providerById = (file: PortalFile, id: string): Provider | undefined => providersOf(file).find((p) => p.id === id);

export function secretOf(file: PortalFile, id: string): string | undefined {
  const row = file.orm.select({ secret: providers.secret }).from(providers).where(eq(providers.id, id)).get();
  return row?.secret ? unseal(file.id, "provider", row.secret) : undefined;
}

export const certificateOf = (p: Provider): string => certificateIn(p.settings.certificate ?? "");

/** What a provider says of whoever is there. */
export interface Claimed {
  readonly subject: string;
  readonly email: string | null;
  /** Said by the provider, in so many words. */
  readonly verified: boolean;
}

/**
 * Whose account it is: the one that it was the first time; and then somebody who is here by the same e-mail, if the provider has verified
 * that, and the agency lets it speak for that domain.
 */
export function personOf(file: PortalFile, provider: Provider, c: Claimed, now: number): string | undefined {
  const own = and(eq(outside.providerId, provider.id), eq(outside.subject, c.subject));
  const known = file.orm.select().from(outside).where(own).get();
  if (known) return known.personId;
  const email = c.email === null ? null : joinEmail(c.email);
  if (!email || !c.verified || !provider.domains.includes(email.slice(email.lastIndexOf("@") + 1))) return undefined;
  const personId = personIdByEmail(file, email);
  if (!personId) return undefined;
  transact(file, () => {
    file.orm.insert(outside).values({ providerId: provider.id, subject: c.subject, personId, madeAt: now }).onConflictDoNothing().run();
    record(file, {
      actor: { kind: "person", id: personId },
      via: "page",
      at: now,
      kind: "provider-known",
      table: "t_people",
      record: personId,
      detail: provider.name,
    });
  });
  return personId;
}
