/** Makes the demo: one agency, its portal, people and records; all in a few seconds, the same each time. */

import { mkdirSync, renameSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { slugOf } from "@/core/address/slug";
import { system } from "@/core/events/event";
import { fieldBySlug } from "@/core/schema/types";
import { addDays, dateIn } from "@/core/time/relative";
import { keepBrandPicture } from "@/data/brand/pictures";
import { draftOf } from "@/data/definition/draft";
import { storePublished } from "@/data/definition/published";
import { dataFolder } from "@/data/file/open";
import { transact } from "@/data/file/transact";
import { keepContentsIn } from "@/data/files/store";
import { createPortal } from "@/data/installation/portals";
import { addCompany, addPerson, setShown } from "@/data/people/people";
import { schemaOf } from "@/data/tables/read";
import { storePassword } from "@/identity/entering/sign-in";
import { addStaff } from "@/identity/office/sessions";
import { ownerViewer } from "@/identity/viewers/viewer";
import { folderFiles } from "@/services/files/folder";
import { makeMoney, openAccount } from "./billing";
import { COMPANIES, PEOPLE, passwordOf } from "./cast";
import { demoDefinition } from "./definition";
import { type DemoStaff, demoStaff, makeDoors, makeProviders } from "./doors";
import { signPicture } from "./drawings";
import { fillShelf } from "./files";
import { makeLedger } from "./ledger";
import { makeLibrary } from "./library/make";
import { invitationOf } from "./outbox";
import { makePapers, PEOPLE_OF } from "./papers";
import { adder, type DemoContext, makeProjects, makeSigns, makeSites } from "./records";
import { makeShared } from "./shared";
import { makeTables } from "./tables";
import { makeTalk } from "./talk";

export interface DemoAccounts {
  office: { url: string; email: string; password: string };
  staff: readonly DemoStaff[];
  /** What opens the Ledger Room. */
  ledger: { key: string };
  /** Ids of the stand-in organisation in the portal, where there is one. */
  providers: { oidc: string; saml: string } | null;
  portals: {
    slug: string;
    url: string;
    people: { name: string; email: string; password: string; company: string | null; roles: string[] }[];
  }[];
}

const OWNER = { name: "Rosalind Fern", email: "rosalind@fernhill.example", password: "rosalind-keeps-the-keys" };
const emailOf = (name: string, domain: string): string => `${slugOf(name.split(" ")[0]!, "person", () => false)}@${domain}`;

export async function makeDemo(port: number, scale = 1, say: (line: string) => void = () => {}): Promise<DemoAccounts> {
  const now = Date.now();
  const owner = ownerViewer({ id: "demo", name: "Demo" }, now);
  await addStaff(OWNER.name, OWNER.email, OWNER.password, now);
  const by = { actor: system("demo"), name: OWNER.name, at: now };
  const made = createPortal("fernhill", "Fernhill Wayfinding", by);
  if ("problem" in made) throw new Error(made.problem);
  const { file } = made;
  file.db.pragma("synchronous = OFF"); // nothing is lost if this stops half way: it is made again
  const t = makeTables(file);
  const schema = schemaOf(file);
  const today = dateIn(now, "Europe/London");
  const ids = { companies: new Map<string, string>(), people: new Map<string, string>() };
  say("pictures of signs, and drawings");
  keepContentsIn(folderFiles);
  const slugged = (table: string, slug: string) => fieldBySlug(schema.table(table), slug)!;
  const shelf = await fillShelf(file, owner, slugged(t.signs, "photo"), slugged(t.documents, "file"));
  const c: DemoContext = { file, schema, t, now, today, scale, shelf, ...ids };

  say("companies, sites and people");
  const field = (table: string, slug: string): string => schema.table(table).fields.find((f) => f.slug === slug)!.id;
  for (const co of COMPANIES) {
    const added = addCompany(file, owner, co.name, {
      [field("t_companies", "address")]: co.address,
      [field("t_companies", "client-since")]: addDays(today, -400 - co.name.length * 31),
    });
    if (!added.ok) throw new Error(added.error.message);
    ids.companies.set(co.key, added.value.id);
  }
  const definition = demoDefinition(schema, ids.companies.get("saltmarsh")!);
  const picture = await keepBrandPicture(file, owner, "picture", await signPicture("Directory", "Vitreous enamel"));
  if (!picture.ok) throw new Error(picture.error);
  definition.brand = { ...definition.brand, signIn: { ...definition.brand.signIn, picture: picture.value.hash } };
  storePublished(file, definition, by);
  const add = adder(c);
  const sites = makeSites(c, add);
  const people = await makePeople(c, owner, sites, field);

  say("a year of money");
  const till = openAccount(file, owner, port);
  const payers = COMPANIES.map((co) => ({
    ...co.pays,
    company: c.companies.get(co.key)!,
    name: co.name,
    address: co.address,
    email: `accounts@${co.domain}`,
    state: co.state,
    until: co.until,
    country: "GB",
    seats: 1,
  }));
  transact(file, () => makeMoney(file, till, payers, now));
  till.db.close();

  say("projects, signs and papers");
  transact(file, () => {
    const projects = makeProjects(c, add);
    const signs = makeSigns(c, add, projects, sites);
    makePapers(c, add, signs, sites);
    makeTalk(c);
    makeShared(c, add);
    shelf.close();
  });
  storePublished(file, draftOf(file, owner).definition, by); // works out the company of every record
  setShown(file, owner, c.people.get("Ines Fairlough")!, true);
  say("doors, and those who wait at them");
  await makeDoors(file, ownerViewer({ id: "demo", name: "Demo" }, now), now);
  const described = process.env.ELKHORN_DEMO_PROVIDER;
  const providers = described ? makeProviders(file, owner, described) : null;
  file.db.exec("ANALYZE; DROP TABLE IF EXISTS sqlite_stat4;");
  file.db.pragma("synchronous = NORMAL");

  say("the Detail Library, a second portal");
  const library = await makeLibrary(port, now);
  const accounts: DemoAccounts = {
    office: { url: `http://localhost:${port}`, email: OWNER.email, password: OWNER.password },
    staff: demoStaff(),
    ledger: { key: makeLedger(today, now) },
    providers,
    portals: [{ slug: "fernhill", url: `http://fernhill.localhost:${port}`, people }, library],
  };
  writeAccounts(accounts);
  return accounts;
}

async function makePeople(
  c: DemoContext,
  owner: ReturnType<typeof ownerViewer>,
  sites: Map<string, string[]>,
  field: (t: string, s: string) => string,
): Promise<DemoAccounts["portals"][0]["people"]> {
  const people: DemoAccounts["portals"][0]["people"] = [];
  for (const [i, p] of PEOPLE.entries()) {
    const company = COMPANIES.find((x) => x.key === p.company);
    const email = emailOf(p.name, p.company === null ? "fernhill.example" : (company?.domain ?? "wanderer.example"));
    const values = {
      [field("t_people", "sites")]: (p.sites ?? []).map((n) => sites.get(p.company!)![n]!),
      [field("t_people", "telephone")]: `01632 960${String(100 + i)}`, // 01632 960xxx is kept for drama by the United Kingdom's regulator
    };
    const memberships = p.company === "" ? [] : [{ companyId: company ? c.companies.get(company.key)! : null, roles: p.roles }];
    if (p.also) memberships.push({ companyId: c.companies.get(p.also.company)!, roles: p.also.roles });
    const added = addPerson(c.file, owner, { name: p.name, email, memberships, status: p.status ?? "active", values });
    if (!added.ok) throw new Error(`${p.name}: ${added.error.message}`);
    c.people.set(p.name, added.value.id);
    if (p.company) PEOPLE_OF.set(p.company, [...(PEOPLE_OF.get(p.company) ?? []), p.name]);
    if (p.uninvited) continue;
    await storePassword(c.file, added.value.id, passwordOf(p.name), p.status === "invited", c.now);
    if (p.company) invitationOf(c.file, owner, added.value.id, { name: p.name, email }, p.status === "invited", c.now);
    people.push({ name: p.name, email, password: passwordOf(p.name), company: company?.name ?? null, roles: p.roles });
  }
  return people;
}

function writeAccounts(accounts: DemoAccounts): void {
  mkdirSync(dataFolder(), { recursive: true });
  const path = join(dataFolder(), "demo-accounts.json");
  writeFileSync(`${path}.part`, `${JSON.stringify(accounts, null, 2)}\n`, { mode: 0o600 });
  rmSync(path, { force: true });
  renameSync(`${path}.part`, path);
}
