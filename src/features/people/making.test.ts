/** A table made people, or companies: who moves, who is there, what stays, what relations and rules lead to, and who reads more by it. */
import { describe, expect, it } from "vitest";
import type { Owner } from "@/core/access/who/viewer";
import { fieldBySlug, SHOWN_FIELD } from "@/core/schema/types";
import { changeDraft, draftOf } from "@/data/definition/draft";
import { published, storePublished } from "@/data/definition/published";
import type { MakingAsk } from "@/data/making/ask";
import { personIdByEmail } from "@/data/people/people";
import { Desk } from "@/data/records/desk";
import { binned, restoreRecord } from "@/data/records/write/bin";
import { removeRecord } from "@/data/records/write/remove";
import { addField, addTable } from "@/data/tables/change";
import { schemaOf } from "@/data/tables/read";
import { must, TestPortal } from "@/testing/portal";
import { PUBLISHER } from "@/testing/world";
import { makePeople } from "./making";

/** Contacts of Ash and Birch, whom projects name; one is a person already, one has no address. */
class Contacts extends TestPortal {
  readonly contacts: string;
  readonly ids: Record<"name" | "mail" | "firm" | "phone" | "boss" | "groups" | "kind", string>;
  readonly contact: string;
  readonly also: string;
  readonly rows: Record<"Ada" | "Ben" | "Cy" | "Nil", string>;

  constructor() {
    super([{ roles: ["lead"], table: "projects" }], () => []);
    const { file } = this;
    this.contacts = addTable(file, {
      slug: "contacts",
      name: "Contacts",
      singular: "Contact",
      fields: [
        { slug: "name", name: "Name", type: "text" },
        { slug: "mail", name: "Mail", type: "text" },
        { slug: "firm", name: "Firm", type: "relation", options: { target: "t_companies" } },
        { slug: "phone", name: "Telephone", type: "telephone" },
        { slug: "kind", name: "Kind", type: "choice", options: { choices: ["Buyer", "Fitter"] } },
      ],
    });
    addField(file, this.contacts, { slug: "boss", name: "Boss", type: "relation", options: { target: this.contacts } });
    addField(file, this.contacts, { slug: "groups", name: "Sites", type: "relations", options: { target: this.table("sites").id } });
    const projects = this.table("projects").id;
    this.contact = addField(file, projects, { slug: "contact", name: "Contact", type: "relation", options: { target: this.contacts } });
    this.also = addField(file, projects, { slug: "also", name: "Also", type: "relations", options: { target: this.contacts } });
    const own = schemaOf(file).table(this.contacts);
    this.ids = Object.fromEntries(own.fields.map((f) => [f.slug, f.id])) as Contacts["ids"];
    const live = published(file).definition;
    const grant = { id: "gc", roles: ["lead"], table: this.contacts, actions: ["see" as const, "add" as const, "change" as const] };
    const filter = { kind: "test" as const, path: [this.ids.firm], operator: "is-not-empty" as const, operands: [] };
    storePublished(
      file,
      {
        ...live,
        walls: { ...live.walls, [this.contacts]: { kind: "owned", path: [this.ids.firm] } },
        grants: [
          ...live.grants.map((g) => ({ ...g, fields: [...g.fields, this.contact, this.also] })),
          { ...grant, filter, fields: [this.ids.name, this.ids.phone], changes: [this.ids.phone, this.ids.mail] },
        ],
      },
      PUBLISHER,
    );
    this.person("Dana", "Ash", "lead");
    const put = (name: string, mail: string | null, firm: string | null, more: Record<string, string | string[]> = {}): string =>
      must(
        this.office.add(schemaOf(file).table(this.contacts), {
          [this.ids.name]: name,
          [this.ids.mail]: mail,
          [this.ids.firm]: firm && this.company(firm),
          ...more,
        }),
      ).id;
    const site = this.add("sites", { name: "Yard", company: this.company("Ash") });
    const fitter = own.fields.find((f) => f.id === this.ids.kind)!.options.choices![1]!.id;
    const ben = put("Ben", "ben@t.example", "Birch", { [this.ids.phone]: "0123 4567", [this.ids.kind]: fitter });
    this.rows = {
      Ben: ben,
      Ada: put("Ada", "DANA@t.example", "Birch", { [this.ids.boss]: ben, [this.ids.groups]: [site], [this.ids.phone]: "0999" }),
      Cy: put("Cy", "cy@t.example", null, { [this.ids.boss]: ben }),
      Nil: put("Nil", null, "Ash", { [this.ids.boss]: ben }),
    };
  }
  get office(): Desk<Owner> {
    return new Desk(this.file, published(this.file).policy, this.owner);
  }
  ask = (more: Partial<MakingAsk> = {}): MakingAsk => ({
    table: this.contacts,
    into: "people",
    name: this.ids.name,
    email: this.ids.mail,
    company: this.ids.firm,
    joins: {},
    roles: ["lead"],
    agencyRoles: [],
    shown: false,
    ...more,
  });
  project_ = (name: string, to: string, also: string[] = []): string =>
    must(
      this.office.add(schemaOf(this.file).table(this.table("projects").id), {
        ...this.values("projects", { title: name, company: this.company("Ash") }),
        [this.contact]: to,
        [this.also]: also,
      }),
    ).id;
  row = (table: string, id: string): Record<string, unknown> | undefined => {
    const row = this.file.db.prepare(`SELECT * FROM "${table}" WHERE id = ?`).get(id) as Record<string, unknown> | undefined;
    const several = schemaOf(this.file)
      .table(table)
      .fields.filter((f) => f.type === "relations" && !f.system);
    const linked = (f: string): unknown[] =>
      this.file.db.prepare(`SELECT target_id FROM "l_${f}" WHERE record_id = ? ORDER BY 1`).pluck().all(id);
    return row && { ...row, ...Object.fromEntries(several.map((f) => [f.id, linked(f.id)])) };
  };
  places = (person: string): unknown[] =>
    this.file.db.prepare("SELECT company_id FROM sys_memberships WHERE person_id = ? ORDER BY created_at, rowid").pluck().all(person);
}

describe("a table made people", () => {
  it("a trial says who, and leaves nothing behind; then rows move, ids stay, and relations lead to people", () => {
    const p = new Contacts();
    const [toBen, toAda, toNil] = [
      p.project_("B", p.rows.Ben, [p.rows.Ada, p.rows.Nil, p.rows.Cy]),
      p.project_("A", p.rows.Ada),
      p.project_("N", p.rows.Nil),
    ];
    const before = JSON.stringify([schemaOf(p.file).tables, published(p.file).definition, p.places(p.rows.Ben)]);
    const tried = must(makePeople(p.file, p.owner, p.ask(), false));
    expect(tried).toMatchObject({
      made: 2,
      there: { records: 1, names: ["Ada"] },
      stays: { records: 1, which: [{ name: "Nil", why: "It has no e-mail address." }] },
      turned: ["Contact of Projects", "Also of Projects"],
      fields: ["Telephone", "Kind", "Boss", "Sites"],
      beside: ["Contact (before)", "Also (before)"],
      ends: 1,
      placed: 2,
      nowhere: 1,
      broken: [],
    });
    expect(JSON.stringify([schemaOf(p.file).tables, published(p.file).definition, p.places(p.rows.Ben)])).toBe(before);
    expect(must(makePeople(p.file, p.owner, p.ask(), true))).toEqual(tried);

    const schema = schemaOf(p.file);
    const dana = personIdByEmail(p.file, "dana@t.example")!;
    expect(schema.findTable(p.contacts)).toBeUndefined();
    expect(p.row("t_people", p.rows.Ben)).toMatchObject({
      f_person_name: "Ben",
      f_person_email: "ben@t.example",
      f_person_status: "invited",
      [p.ids.phone]: "0123 4567",
      [SHOWN_FIELD]: null,
    });
    expect(p.places(p.rows.Ben)).toEqual([p.company("Birch")]);
    expect(p.places(p.rows.Cy)).toEqual([]);
    // Whoever was there keeps their name and place; what was empty is filled, and another place is added.
    expect(p.row("t_people", dana)).toMatchObject({ f_person_name: "Dana", [p.ids.phone]: "0999", [p.ids.boss]: p.rows.Ben });
    expect(p.row("t_people", dana)![p.ids.groups]).toHaveLength(1);
    expect(p.places(dana)).toEqual([p.company("Ash"), p.company("Birch")]);
    expect(p.row("t_people", p.rows.Cy)).toMatchObject({ [p.ids.boss]: p.rows.Ben });

    const projects = p.table("projects").id;
    expect(p.row(projects, toBen)).toMatchObject({ [p.contact]: p.rows.Ben });
    expect(p.row(projects, toBen)![p.also]).toEqual([dana, p.rows.Cy].sort());
    expect(p.row(projects, toAda)).toMatchObject({ [p.contact]: dana });
    expect(p.row(projects, toNil)).toMatchObject({ [p.contact]: null });
    expect(schema.field(p.contact).options.target).toBe("t_people");

    // What stayed goes on under its name and address, the agency's alone, and what pointed to it still does.
    const rest = schema.tableBySlug("contacts")!;
    const beside = fieldBySlug(schema.table(projects), "contact-before")!;
    expect(p.row(rest.id, p.rows.Nil)).toMatchObject({
      [fieldBySlug(rest, "name")!.id]: "Nil",
      [fieldBySlug(rest, "boss")!.id]: p.rows.Ben,
    });
    expect(p.row(projects, toNil)).toMatchObject({ [beside.id]: p.rows.Nil });
    expect(published(p.file).policy.wall(rest.id)).toEqual({ kind: "agency-only" });
    expect(p.file.db.pragma("foreign_key_check")).toEqual([]);
    expect(p.office.list(schema.people, { search: "0123", limit: 5 }).records).toHaveLength(1);
  });

  it("grants follow within the wall of people; adding does not; the draft follows as one step", () => {
    const p = new Contacts();
    must(changeDraft(p.file, p.owner, draftOf(p.file, p.owner).revision, (d) => ({ ...d, portal: { ...d.portal, name: "Drafted" } })));
    const settings = (): unknown => p.file.db.prepare("SELECT value FROM sys_settings WHERE key = 'x'").pluck().get();
    p.file.db
      .prepare("INSERT INTO sys_settings VALUES ('x', ?)")
      .run(JSON.stringify({ landing: p.contacts, asks: [p.ids.mail, p.ids.phone] }));
    must(makePeople(p.file, p.owner, p.ask(), true));
    expect(JSON.parse(String(settings()))).toEqual({ landing: "t_people", asks: ["f_person_email", p.ids.phone] });
    const { definition } = published(p.file);
    const g = definition.grants.find((x) => x.id === "gc")!;
    expect(g).toMatchObject({
      table: "t_people",
      actions: ["see", "change"],
      fields: ["f_person_name", p.ids.phone],
      changes: [p.ids.phone],
    });
    expect(g.filter).toMatchObject({ path: ["f_person_companies"], operator: "is-not-empty" });
    expect(definition.portal.name).not.toBe("Drafted");
    const drafted = draftOf(p.file, p.owner);
    expect(drafted).toMatchObject({ changed: true });
    expect(drafted.definition.portal.name).toBe("Drafted");
    expect(drafted.definition.grants.find((x) => x.id === "gc")?.table).toBe("t_people");
    // Nobody of another company is seen by it.
    const lee = p.person("Lee", "Ash", "lead");
    const names = lee.list(schemaOf(p.file).people, { limit: 9 }).records.map((r) => r.fields.f_person_name);
    expect(names.sort()).toEqual(["Dana", "Lee"]);
  });

  it("says who would read more, and refuses what a safeguard forbids", () => {
    const p = new Contacts();
    const live = published(p.file).definition;
    const grant = {
      id: "gp",
      roles: ["lead"],
      table: "t_people",
      actions: ["see" as const],
      filter: null,
      fields: ["f_person_name", "f_person_email"],
      changes: [],
    };
    const forbids = {
      id: "s1",
      subject: { kind: "side" as const, side: "client" as const },
      table: "t_people",
      claim: { kind: "count" as const, bound: "at most" as const, n: 1 },
    };
    storePublished(p.file, { ...live, grants: [...live.grants, grant] }, PUBLISHER);
    const bo = p.person("Bo", "Birch", "lead");
    expect(must(makePeople(p.file, p.owner, p.ask(), false)).shifted).toContainEqual(
      expect.objectContaining({ who: "Bo", where: "Birch", people: 1, more: expect.arrayContaining(["E-mail of 2"]) }),
    );
    expect(bo.viewer.person?.name).toBe("Bo");
    const now = published(p.file).definition;
    storePublished(p.file, { ...now, safeguards: [forbids] }, PUBLISHER);
    const tried = must(makePeople(p.file, p.owner, p.ask(), false));
    expect(tried.broken).toHaveLength(1);
    const done = makePeople(p.file, p.owner, p.ask(), true);
    expect(done).toMatchObject({ ok: false, error: expect.stringContaining("A safeguard would be broken") });
    expect(schemaOf(p.file).findTable(p.contacts)).toBeDefined();
  });

  it("names what cannot follow: walls through it, acts that add to it, plans that count it, roles of the other side", () => {
    const p = new Contacts();
    const live = published(p.file).definition;
    const through = { kind: "owned" as const, path: [p.contact, p.ids.firm] };
    const refused = (d: typeof live, ask = p.ask()): string => {
      storePublished(p.file, d, PUBLISHER);
      const done = makePeople(p.file, p.owner, ask, true);
      return done.ok ? "done" : done.error;
    };
    expect(refused({ ...live, walls: { ...live.walls, [p.table("projects").id]: through } })).toMatch(/wall of Projects/);
    const act = { id: "a1", name: "File one", table: p.contacts, on: "add" as const, sets: [] };
    expect(refused({ ...live, acts: [act] })).toMatch(/the act File one adds such records/);
    expect(refused(live, p.ask({ roles: [] }))).toMatch(/at least one role/);
    expect(refused(live, p.ask({ agencyRoles: ["lead"] }))).toMatch(/agency roles/);
    expect(refused(live, p.ask({ email: p.ids.phone }))).toMatch(/e-mail address/);
    expect(refused(live, p.ask({ table: "t_people" }))).toMatch(/already/);
    expect(refused(live, p.ask({ company: p.contact }))).toMatch(/relation to Companies/);
    expect(schemaOf(p.file).findTable(p.contacts)).toBeDefined();
  });

  it("what was in the bin comes back as a record; fields that people have take in what means the same", () => {
    const p = new Contacts();
    const mobile = addField(p.file, "t_people", { slug: "mobile", name: "Mobile", type: "telephone" });
    must(removeRecord({ file: p.file, policy: published(p.file).policy, viewer: p.owner }, p.contacts, p.rows.Cy));
    must(makePeople(p.file, p.owner, p.ask({ joins: { [p.ids.phone]: mobile } }), true));
    expect(p.row("t_people", p.rows.Ben)).toMatchObject({ [mobile]: "0123 4567" });
    expect(schemaOf(p.file).findField(p.ids.phone)).toBeUndefined();
    expect(published(p.file).definition.grants.find((x) => x.id === "gc")?.fields).toEqual(["f_person_name", mobile]);
    const owner = { file: p.file, policy: published(p.file).policy, viewer: p.owner };
    expect(binned(owner, { limit: 5, offset: 0 }).records[0]).toMatchObject({ label: "Cy" });
    must(restoreRecord(owner, p.rows.Cy));
    expect(p.row(schemaOf(p.file).tableBySlug("contacts")!.id, p.rows.Cy)).toBeDefined();
  });

  it("companies are made so too: what is called alike is one, and records under them belong to them", () => {
    const p = new Contacts();
    const clients = addTable(p.file, {
      slug: "clients",
      name: "Clients",
      singular: "Client",
      fields: [
        { slug: "name", name: "Name", type: "text" },
        { slug: "town", name: "Town", type: "text" },
      ],
    });
    const of = addField(p.file, p.table("signs").id, { slug: "client", name: "Client", type: "relation", options: { target: clients } });
    const [name, town] = schemaOf(p.file)
      .table(clients)
      .fields.map((f) => f.id) as [string, string];
    const add = (n: string, t: string): string => must(p.office.add(schemaOf(p.file).table(clients), { [name]: n, [town]: t })).id;
    const [ash, cedar] = [add("ash", "Moor"), add("Cedar", "Fen")];
    const signs = schemaOf(p.file).table(p.table("signs").id);
    const sign = must(p.office.add(signs, { ...p.values("signs", { code: "S" }), [of]: cedar })).id;
    const done = must(
      makePeople(p.file, p.owner, p.ask({ table: clients, into: "companies", name, email: null, company: null, roles: [] }), true),
    );
    expect(done).toMatchObject({ made: 1, there: { records: 1 }, stays: { records: 0 } });
    expect(p.row("t_companies", cedar)).toMatchObject({ f_company_name: "Cedar", f_company_slug: "cedar", [town]: "Fen" });
    expect(p.row("t_companies", p.company("Ash"))).toMatchObject({ f_company_name: "Ash", [town]: "Moor" });
    expect(p.row("t_companies", ash)).toBeUndefined();
    expect(p.row(signs.id, sign)).toMatchObject({ [of]: cedar });
    expect(schemaOf(p.file).tableBySlug("clients")).toBeUndefined();
    const old = p.file.db.prepare("SELECT table_id FROM sys_old_addresses WHERE slug = 'clients'").pluck().get();
    expect(old).toBe("t_companies");
    expect(p.file.db.pragma("foreign_key_check")).toEqual([]);
  });
});
