/** Commands against the installation's own folder: whoever can write it may do all that its owner may. A server may be running beside it. */
import { chmodSync, cpSync, createWriteStream, existsSync, mkdirSync, renameSync } from "node:fs";
import { rename } from "node:fs/promises";
import { basename, join } from "node:path";
import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import type { Owner } from "@/core/access/who/viewer";
import type { Table } from "@/core/schema/types";
import { published } from "@/data/definition/published";
import { control, dataFolder, type PortalFile, portalFile } from "@/data/file/open";
import { keepContentsIn } from "@/data/files/store";
import { listPortals } from "@/data/installation/portals";
import { publish } from "@/data/publishing/publish";
import { Desk } from "@/data/records/desk";
import { upheld } from "@/features/access/safeguards";
import { exportFile } from "@/features/api/export-files";
import { findingsOf } from "@/features/checks/findings";
import { portalAddress } from "@/identity/requests/addresses";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { ownerViewer } from "@/identity/viewers/viewer";
import { folderFiles } from "@/services/files/folder";
import { type Asked, Refused, type Said } from "./asked";
import { bringFileIn } from "./bring-in";

const WHO = { id: "command-line", name: "Command line" };

export async function folderCommand(a: Asked): Promise<Said> {
  if (!existsSync(join(dataFolder(), "elkhorn.db"))) throw new Refused(`There is no installation in ${dataFolder()}.`);
  keepContentsIn(folderFiles);
  if (a.command === "backup") return backup(a.args[0]!);
  const p = opened(a);
  switch (a.command) {
    case "import": {
      const done = await bringFileIn(p, tableOf(p, a.args[0]!), a.args[1]!, a.by);
      const words = `${done.added} added, ${done.changed} changed, ${done.same} the same in ${done.table.name}.`;
      return { lines: [words], json: { table: done.table.slug, added: done.added, changed: done.changed, same: done.same } };
    }
    case "export":
      return takeOut(a, p);
    case "check":
      return check(p);
    case "publish":
      return publishDraft(p, a.note);
    case "link":
      return link(a, p);
    case "client":
      throw new Refused("A client is made of a portal that is running: give its address with --at.", [], 2);
  }
}

const owner = (now: number, timeZone: string): Owner => ownerViewer(WHO, now, timeZone);

/** The portal as pages of the back office have it, for somebody who needs no session. */
function opened(a: Asked): OfficePortal {
  const now = Date.now();
  const all = listPortals(owner(now, "UTC"));
  const slug = a.portal ?? (all.length === 1 ? all[0]!.slug : null);
  const names = all.map((x) => x.slug).join(", ");
  if (slug === null) throw new Refused(`Say which portal with --portal: ${names || "there is none yet"}.`, [], 2);
  const file = portalFile(slug);
  if (!file) throw new Refused(`There is no portal “${slug}”. There ${all.length === 1 ? "is" : "are"} ${names}.`);
  const live = published(file);
  const who = owner(now, live.definition.portal.timeZone);
  return {
    slug,
    staff: { ...WHO, email: "", role: "owner" },
    session: "",
    owner: who,
    file,
    live,
    desk: new Desk(file, live.policy, who),
    now,
    at: `/portals/${slug}`,
  };
}

function tableOf(p: OfficePortal, asked: string): Table {
  const { schema } = p.live.policy;
  const table = schema.tableAt(asked) ?? schema.tables.find((t) => t.name.toLowerCase() === asked.toLowerCase());
  if (!table) throw new Refused(`${p.slug} has no table “${asked}”. It has ${schema.tables.map((t) => t.slug).join(", ")}.`);
  return table;
}

async function takeOut(a: Asked, p: OfficePortal): Promise<Said> {
  const table = tableOf(p, a.args[0]!);
  if (!a.out && a.json) throw new Refused("With --json say where it goes: --out FILE.", [], 2);
  const pieces = Readable.from(exportFile(p.desk, table, { limit: 1 }, a.format));
  if (!a.out) {
    await pipeline(pieces, process.stdout, { end: false });
    return { lines: [], json: {} };
  }
  // Under its own name once it is whole.
  await pipeline(pieces, createWriteStream(`${a.out}.part`, { mode: 0o600 }));
  await rename(`${a.out}.part`, a.out);
  return { lines: [`${table.name} is in ${a.out}.`], json: { table: table.slug, file: a.out } };
}

async function check(p: OfficePortal): Promise<Said> {
  const safe = await upheld(p);
  for (;;) {
    const found = await findingsOf(p);
    if (found.state === "working") {
      await new Promise((r) => setTimeout(r, 100));
      continue;
    }
    if (found.state === "failed") throw new Refused("The check failed on our side.");
    const texts = found.value.map((f) => f.text);
    const broken = safe.upheld === "broken" ? ["A safeguard is broken: see Publish in the back office."] : [];
    const all = [...broken, ...texts];
    if (all.length > 0) throw new Refused(`${p.slug}: ${all.length} to look at.`, all);
    return { lines: [`${p.slug}: nothing to look at.`], json: { portal: p.slug, findings: [] } };
  }
}

async function publishDraft(p: OfficePortal, note: string): Promise<Said> {
  const checked = await upheld(p);
  if (!checked.draft.changed)
    return { lines: [`${p.slug} has no draft: version ${p.live.version} is live.`], json: { version: p.live.version, published: false } };
  if (typeof checked.upheld === "string")
    throw new Refused(
      checked.upheld === "broken"
        ? "The draft breaks a safeguard: see Publish in the back office."
        : "The safeguards could not be checked.",
    );
  const done = publish(p.file, p.owner, checked.upheld, note.slice(0, 500));
  if (!done.ok)
    throw new Refused(
      done.error.code === "stale" ? "The draft was changed meanwhile. Publish it again." : "The draft cannot be published.",
      done.error.code === "stale" ? [] : done.error.messages,
    );
  return { lines: [`${p.slug}: version ${done.value.version} is live.`], json: { version: done.value.version, published: true } };
}

function link(a: Asked, p: OfficePortal): Said {
  const [asked, id] = a.args;
  const at = portalAddress(p.slug);
  if (!asked) return { lines: [at], json: { address: at } };
  const table = tableOf(p, asked);
  if (id && !p.desk.read(table, id)) throw new Refused(`${table.name} has no record ${id}.`);
  const address = `${at}/${table.slug}${id ? `/${id}` : ""}`;
  return { lines: [address], json: { address } };
}

/** Each file as it is at one moment, while others write. It holds the key to every secret, as the folder itself does. */
async function backup(into: string): Promise<Said> {
  const stamp = new Date().toISOString().replace(/[:.]/g, "-");
  const folder = join(into, `elkhorn-${stamp}`);
  const making = `${folder}.making`;
  mkdirSync(join(making, "portals"), { recursive: true, mode: 0o700 });
  const copy = async (from: { backup(path: string): Promise<unknown> }, to: string): Promise<void> => {
    await from.backup(to);
    chmodSync(to, 0o600);
  };
  await copy(control().db, join(making, "elkhorn.db"));
  const portals = control().db.prepare("SELECT slug FROM portals").pluck().all() as string[];
  const files: PortalFile[] = portals.flatMap((slug) => portalFile(slug) ?? []);
  for (const f of files) await copy(f.db, join(making, "portals", basename(f.path)));
  const contents = join(dataFolder(), "files");
  if (existsSync(contents)) cpSync(contents, join(making, "files"), { recursive: true });
  renameSync(making, folder);
  return { lines: [`${files.length} portals are in ${folder}. Keep it as safe as the folder itself.`], json: { folder, portals } };
}
