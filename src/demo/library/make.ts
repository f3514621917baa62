/** The second portal of the demo, beside Fernhill's own: shared drawings, opened by plans, for firms and single fitters. */

import { eq } from "drizzle-orm";
import { slugOf } from "@/core/address/slug";
import { system } from "@/core/events/event";
import { type Field, fieldBySlug } from "@/core/schema/types";
import { addDays, dateIn } from "@/core/time/relative";
import { keepBrandPicture } from "@/data/brand/pictures";
import { storePublished } from "@/data/definition/published";
import { newId } from "@/data/file/ids";
import type { PortalFile } from "@/data/file/open";
import { files } from "@/data/file/portal-tables";
import { appendPiece, beginUpload } from "@/data/files/uploads";
import { createPortal } from "@/data/installation/portals";
import { addCompany, addPerson } from "@/data/people/people";
import { schemaOf } from "@/data/tables/read";
import { insertRow } from "@/data/tables/store";
import { AT_FIRST, keepDoors } from "@/identity/doors/settings";
import { storePassword } from "@/identity/entering/sign-in";
import { ownerViewer } from "@/identity/viewers/viewer";
import { keepJoining } from "@/joining/settings";
import { type DemoPayer, makeMoney, openAccount } from "../billing";
import { passwordOf } from "../cast";
import { Random } from "../random";
import { COLLECTIONS, FIRMS, FIXINGS, HOW } from "./contents";
import { libraryDefinition } from "./definition";
import { detailDrawing, LOGO } from "./drawings";
import { type LibraryTables, makeLibraryTables } from "./tables";

export interface MadePortal {
  slug: string;
  url: string;
  people: { name: string; email: string; password: string; company: string | null; roles: string[] }[];
}

const ZONE = "Europe/Dublin";
const STAFF = ["Tobias Renn", "Ines Fairlough"];
const first = (name: string): string => slugOf(name.split(" ")[0]!, "person", () => false);

/** Makes the demo's second portal, which sells access by itself. */
export async function makeLibrary(port: number, now: number): Promise<MadePortal> {
  const owner = ownerViewer({ id: "demo", name: "Demo" }, now);
  const by = { actor: system("demo"), name: "Rosalind Fern", at: now };
  const made = createPortal("library", "Detail Library", by);
  if ("problem" in made) throw new Error(made.problem);
  const { file } = made;
  file.db.pragma("synchronous = OFF");
  const t = makeLibraryTables(file);
  const schema = schemaOf(file);
  const definition = libraryDefinition(schema, t);
  const behind = await keepBrandPicture(file, owner, "picture", await detailDrawing("masonry", 4));
  const logo = await keepBrandPicture(file, owner, "logo", Buffer.from(LOGO));
  if (!behind.ok || !logo.ok) throw new Error("The library's pictures could not be kept.");
  definition.brand = { ...definition.brand, logo: logo.value.hash, signIn: { ...definition.brand.signIn, picture: behind.value.hash } };
  storePublished(file, definition, by);
  await makeDetails(file, t, now);
  const people = await makeFirms(file, port, now);
  keepDoors(file, owner, { ...AT_FIRST, open: ["password", "link", "mail-code", "passkey"] });
  const kept = keepJoining(file, owner, {
    who: "anybody",
    domains: [],
    approval: false,
    kinds: ["company", "alone"],
    fields: [fieldBySlug(schema.table("t_companies"), "town")!.id],
    fixed: {},
    lead: "firm-lead",
    member: "fitter",
    terms: "Drawings are for work that you do yourself. Loads are to be measured on the wall that you stand at.",
  });
  if (!kept.ok) throw new Error(kept.error);
  storePublished(file, definition, by); // works out the company of every record
  file.db.exec("ANALYZE; DROP TABLE IF EXISTS sqlite_stat4;");
  file.db.pragma("synchronous = NORMAL");
  return { slug: "library", url: `http://library.localhost:${port}`, people };
}

async function send(file: PortalFile, field: Field, record: string, name: string, body: Buffer, now: number): Promise<string> {
  const viewer = ownerViewer({ id: "demo", name: "Demo" }, now);
  const begun = beginUpload(file, viewer, field, { name, bytes: body.length });
  if (!begun.ok) throw new Error(JSON.stringify(begun.error));
  const done = await appendPiece(file, viewer, () => field, begun.value.id, 0, new Blob([new Uint8Array(body)]).stream());
  if (!done.ok) throw new Error(JSON.stringify(done.error));
  file.orm.update(files).set({ recordId: record }).where(eq(files.id, begun.value.id)).run();
  return begun.value.id;
}

async function makeDetails(file: PortalFile, t: LibraryTables, now: number): Promise<void> {
  const schema = schemaOf(file);
  const r = new Random(24);
  const today = dateIn(now, ZONE);
  const field = (table: string, slug: string): Field => fieldBySlug(schema.table(table), slug)!;
  const stamp = { by: "demo", at: new Date(now).toISOString() };
  const put = (table: string, id: string, values: Record<string, unknown>): void =>
    insertRow(
      file,
      schema.table(table),
      id,
      Object.fromEntries(Object.entries(values).map(([slug, v]) => [field(table, slug).id, v])) as never,
      stamp,
    );
  const fixings = new Map((field(t.details, "fixing").options.choices ?? []).map((c) => [c.name, c.id]));
  for (const [i, c] of COLLECTIONS.entries()) {
    const collection = newId();
    const cover = await send(file, field(t.collections, "cover"), collection, "cover.png", await detailDrawing(c.wall, i * 8 + 3), now);
    put(t.collections, collection, { name: c.name, about: c.about, cover: [cover] });
    for (const [k, title] of c.details.entries()) {
      const id = newId();
      const drawing = await send(file, field(t.details, "drawing"), id, "detail.png", await detailDrawing(c.wall, i * 8 + k), now);
      put(t.details, id, {
        title,
        collection,
        fixing: fixings.get(c.wall === "ground" ? r.pick(["Post", "Clamp", "Anchor"]) : r.pick(FIXINGS.slice(0, 3)))!,
        free: k < 2,
        drawing: [drawing],
        load: r.int(4, 92),
        fixings: r.int(2, 8),
        depth: r.int(40, 180),
        how: HOW,
        drawn: addDays(today, -r.int(3, 700)),
      });
    }
  }
}

async function makeFirms(file: PortalFile, port: number, now: number): Promise<MadePortal["people"]> {
  const owner = ownerViewer({ id: "demo", name: "Demo" }, now);
  const schema = schemaOf(file);
  const payers: DemoPayer[] = [];
  const town = fieldBySlug(schema.table("t_companies"), "town")!.id;
  const people: MadePortal["people"] = [];
  const enter = async (name: string, email: string, companyId: string | null, company: string | null, role: string): Promise<void> => {
    const added = addPerson(file, owner, { name, email, memberships: [{ companyId, roles: [role] }], status: "active" });
    if (!added.ok) throw new Error(`${name}: ${added.error.message}`);
    await storePassword(file, added.value.id, passwordOf(name), false, now);
    people.push({ name, email, password: passwordOf(name), company, roles: [role] });
  };
  for (const name of STAFF) await enter(name, `${first(name)}@fernhill.example`, null, null, "editor");
  for (const firm of FIRMS) {
    const added = addCompany(file, owner, firm.name, { [town]: firm.town });
    if (!added.ok) throw new Error(added.error.message);
    const price = firm.plan && `${firm.plan}-${firm.until > 31 ? "year" : "month"}`;
    if (price) {
      const seats = firm.plan === "crew" ? Math.max(3, firm.people.length) : 1;
      const { state, until, name } = firm;
      const email = `accounts@${firm.domain}`;
      payers.push({
        company: added.value.id,
        name,
        address: firm.town,
        email,
        country: "IE",
        price,
        seats,
        state,
        until,
        paid: 1,
        collect: "card",
      });
    }
    for (const p of firm.people) await enter(p.name, `${first(p.name)}@${firm.domain}`, added.value.id, firm.name, p.role);
  }
  const till = openAccount(file, owner, port);
  makeMoney(file, till, payers, now);
  till.db.close();
  return people;
}
