/**
 * Rehearsals: a throw-away copy of a portal under an address of its own. Whatever would let somebody in, or reach somebody outside, stays
 * behind (settled ahead, 25); contents of files are read where the portal has them. Nothing of it ever comes back.
 */

import { renameSync, rmSync } from "node:fs";
import { join } from "node:path";
import { eq } from "drizzle-orm";
import type { Owner } from "@/core/access/who/viewer";
import type { PortalId } from "@/core/ids";
import { sqlName } from "@/core/text/sql-name";
import { REHEARSAL, type Rehearsal, rehearsalIn } from "../file/clock";
import { portals } from "../file/control-tables";
import { newId } from "../file/ids";
import {
  control,
  copiedPortalFile,
  dataFolder,
  forgetAddresses,
  forgetFile,
  openDatabase,
  type PortalFile,
  portalFile,
  portalIdAt,
} from "../file/open";
import { transact } from "../file/transact";
import { writeMeta } from "../tables/meta";

/** The address of a portal's rehearsal. */
export const rehearsalSlug = (slug: string): string => `rehearsal-${slug}`;
/** It ends by itself. */
export const REHEARSAL_LASTS = 7 * 86_400_000;

/** Sessions, passwords, links, factors, codes and keys; webhooks; other systems that are read; outside identities and their secrets; the provider's account; work and mail that waits. */
const LEFT_BEHIND = [
  "sys_sessions",
  "sys_credentials",
  "sys_links",
  "sys_factors",
  "sys_recovery",
  "sys_flows",
  "sys_codes",
  "sys_providers",
  "sys_outside",
  "sys_provider",
  "sys_jobs",
  "sys_attempts",
  "sys_provider_events",
  "sys_keys",
  "sys_webhook_sends",
  "sys_webhooks",
  "sys_kept_answers",
  "sys_source_sends",
  "sys_source_records",
  "sys_source_runs",
  "sys_source_feeds",
  "sys_sources",
] as const;

/** A copy of a portal as it is now, with its draft, under an address of its own. One that is there is replaced. */
export async function makeRehearsal(source: PortalFile, owner: Owner, by: string): Promise<PortalFile> {
  endRehearsal(source.slug, owner);
  const id = newId() as PortalId;
  const slug = rehearsalSlug(source.slug);
  // Copied page by page beside whatever is read and written meanwhile.
  const path = join(dataFolder(), "portals", `${id}.db`);
  // Until its secrets are removed the copy has a name that nothing opens. They are gone from its free pages and its log, too.
  const raw = `${path}.making`;
  await source.db.backup(raw);
  const cleaned = openDatabase(raw);
  cleaned.transaction(() => {
    for (const table of LEFT_BEHIND) cleaned.exec(`DELETE FROM ${sqlName(table)}`);
  })();
  cleaned.pragma("wal_checkpoint(TRUNCATE)");
  cleaned.exec("VACUUM");
  cleaned.pragma("wal_checkpoint(TRUNCATE)");
  cleaned.close();
  renameSync(raw, path);
  const file = copiedPortalFile(id, slug);
  transact(file, () => {
    file.db.exec(`UPDATE sys_messages SET state = 'failed', error = 'It was not sent when the rehearsal began.', link_id = NULL, link_version = NULL
      WHERE state IN ('ready', 'waiting');
      UPDATE sys_messages SET link_id = NULL, link_version = NULL;
      UPDATE sys_checkouts SET state = 'failed', why = 'It belongs to the portal itself.' WHERE state IN ('asked', 'open')`);
    const facts: Rehearsal = { of: source.id, slug: source.slug, ahead: 0, madeAt: owner.now, madeBy: by };
    writeMeta(file, REHEARSAL, JSON.stringify(facts));
  });
  // Links that waited in messages, too, are not to be found in free pages or in the log.
  file.db.exec("VACUUM");
  file.db.pragma("wal_checkpoint(TRUNCATE)");
  control()
    .orm.insert(portals)
    .values({ id, slug, name: slug, createdAt: new Date(owner.now).toISOString() })
    .run();
  forgetAddresses();
  return file;
}

/** The rehearsal of a portal, where there is one. */
export function rehearsalOf(slug: string): { file: PortalFile; facts: Rehearsal } | null {
  const file = portalFile(rehearsalSlug(slug));
  if (!file) return null;
  file.meta.look();
  const facts = rehearsalIn(file);
  return facts && { file, facts };
}

/** Its file and its own uploads go for good; the portal's stay as they are. */
export function endRehearsal(of: string, _owner: Owner | null): boolean {
  const slug = rehearsalSlug(of);
  const id = portalIdAt(slug);
  const file = id && portalFile(slug);
  if (!id || !file || !rehearsalIn(file)) return false;
  control().orm.delete(portals).where(eq(portals.id, id)).run();
  forgetAddresses();
  forgetFile(file.path);
  for (const end of ["", "-wal", "-shm"]) rmSync(`${file.path}${end}`, { force: true });
  rmSync(join(dataFolder(), "files", id), { recursive: true, force: true });
  return true;
}

/** Only ever forward. */
export function setAhead(file: PortalFile, _owner: Owner, ahead: number): void {
  const facts = rehearsalIn(file);
  if (!facts || ahead < facts.ahead) return;
  writeMeta(file, REHEARSAL, JSON.stringify({ ...facts, ahead: Math.round(ahead) }));
}

/** Removes rehearsals that are over. */
export function sweepRehearsals(now: number): void {
  const slugs = control().db.prepare("SELECT slug FROM portals WHERE slug LIKE 'rehearsal-%'").pluck().all() as string[];
  for (const slug of slugs) {
    const file = portalFile(slug);
    const facts = file && rehearsalIn(file);
    if (facts && facts.madeAt + REHEARSAL_LASTS < now) endRehearsal(facts.slug, null);
    else file?.rest?.();
  }
}
