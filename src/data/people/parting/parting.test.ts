/** Two records of one person or company made one, a person removed, and either taken back whole. */
import { describe, expect, it } from "vitest";
import { published, storePublished } from "@/data/definition/published";
import { addField } from "@/data/tables/change";
import { schemaOf } from "@/data/tables/read";
import { must, TestPortal } from "@/testing/portal";
import { PUBLISHER } from "@/testing/world";
import { mergeInto, removePerson } from "../../parting/parting";
import { restoreRecord } from "../../records/write/bin";
import { addMembership, personIdByEmail } from "../people";

/** Everything that a portal's file holds of people and what points to them, so that "as it was" can be compared whole. */
const TABLES = [
  "t_people",
  "t_companies",
  "sys_memberships",
  "sys_credentials",
  "sys_factors",
  "sys_outside",
  "sys_messages",
  "sys_links",
  "sys_talk",
  "sys_reads",
];

class Doubles extends TestPortal {
  readonly phone: string;
  readonly sites: string;
  readonly crew: string;
  constructor() {
    super([{ roles: ["lead"], table: "projects" }], () => []);
    this.phone = addField(this.file, "t_people", { slug: "phone", name: "Telephone", type: "telephone" });
    this.sites = addField(this.file, "t_people", {
      slug: "yards",
      name: "Yards",
      type: "relations",
      options: { target: this.table("sites").id },
    });
    this.crew = addField(this.file, this.table("signs").id, {
      slug: "crew",
      name: "Crew",
      type: "relations",
      options: { target: "t_people" },
    });
    this.person("Ann", "Ash", "lead");
    this.person("Anne", "Birch", "lead");
    must(addMembership(this.file, this.owner, this.id("anne"), this.company("Ash"), ["lead"]));
  }
  id = (name: string): string => personIdByEmail(this.file, `${name}@t.example`)!;
  sql = (text: string, ...values: unknown[]): void => void this.file.db.prepare(text).run(...values);
  all = (): string =>
    JSON.stringify(
      [...TABLES, this.table("projects").id, this.table("signs").id, `l_${this.crew}`, `l_${this.sites}`].map((x) =>
        (this.file.db.prepare(`SELECT * FROM "${x}" ORDER BY 1, 2`).all() as Record<string, unknown>[]).map(
          ({ version: _, ...row }) => row,
        ),
      ),
    );
  get access() {
    return { file: this.file, policy: published(this.file).policy, viewer: this.owner };
  }
  /** Anne leads a project, is of two crews (in one with Ann), has a telephone, a password and an account elsewhere. */
  give(): void {
    const [ann, anne] = [this.id("ann"), this.id("anne")];
    this.add("projects", { title: "P", company: this.company("Ash"), lead: anne });
    const [one, two] = [
      this.add("signs", { code: "A", project: this.project("Ash") }),
      this.add("signs", { code: "B", project: this.project("Ash") }),
    ];
    for (const [sign, who] of [
      [one, anne],
      [one, ann],
      [two, anne],
    ] as const)
      this.sql(`INSERT INTO "l_${this.crew}" VALUES (?, ?)`, sign, who);
    this.sql(`UPDATE t_people SET "${this.phone}" = '0123' WHERE id = ?`, anne);
    this.sql(`INSERT INTO "l_${this.sites}" VALUES (?, ?)`, anne, this.add("sites", { name: "Yard", company: this.company("Ash") }));
    this.sql("INSERT INTO sys_credentials VALUES (?, 'hash', 0, '2026-01-01')", anne);
    this.sql("INSERT INTO sys_outside VALUES ('idp', 'sub', ?, 1)", anne);
    for (const [who, record] of [
      [anne, "r1"],
      [anne, "r2"],
      [this.id("ann"), "r2"],
    ])
      this.sql("INSERT INTO sys_reads (person_id, record_id, at) VALUES (?, ?, 1)", who, record);
    this.sql("INSERT INTO sys_sessions (hash, person_id, created_at, seen_at, expires_at) VALUES ('h', ?, 1, 1, 9)", anne);
    this.sql(
      "INSERT INTO sys_messages (id, occasion, person_id, email, subject, body, state, made_at, made_by) VALUES ('m', 'invited', ?, 'x', 's', 'b', 'ready', 1, 'owner')",
      anne,
    );
  }
}

describe("two records of one person", () => {
  it("are tried, made one, and taken back as they were", () => {
    const p = new Doubles();
    p.give();
    const [ann, anne] = [p.id("ann"), p.id("anne")];
    const before = p.all();
    const trial = must(mergeInto(p.file, p.owner, "people", ann, anne, false));
    expect(p.all()).toBe(before);
    expect(trial).toMatchObject({
      name: "Anne",
      to: "Ann",
      places: 2,
      filled: ["Telephone"],
      messages: 1,
      signsIn: false,
    });
    expect(trial.pointing).toEqual([
      { field: "Lead", table: "Projects", records: 1 },
      { field: "Crew", table: "Signs", records: 2 },
    ]);
    expect(trial.differing).toEqual([
      { field: "Name", stays: "Ann", goes: "Anne" },
      { field: "E-mail", stays: "ann@t.example", goes: "anne@t.example" },
    ]);
    expect(must(mergeInto(p.file, p.owner, "people", ann, anne, true))).toEqual(trial);
    const one = (sql: string, ...v: unknown[]): unknown =>
      p.file.db
        .prepare(sql)
        .pluck()
        .get(...v);
    expect(one("SELECT count(*) FROM t_people WHERE id = ?", anne)).toBe(0);
    expect(one("SELECT count(*) FROM sys_memberships WHERE person_id = ?", ann)).toBe(2);
    expect(one(`SELECT count(*) FROM "${p.table("projects").id}" WHERE "${p.field("projects", "lead")}" = ?`, ann)).toBe(1);
    expect(one(`SELECT count(*) FROM "l_${p.crew}" WHERE target_id = ?`, ann)).toBe(2);
    expect(one(`SELECT "${p.phone}" FROM t_people WHERE id = ?`, ann)).toBe("0123");
    expect(one("SELECT person_id FROM sys_credentials")).toBe(ann);
    expect(one("SELECT person_id FROM sys_outside")).toBe(ann);
    expect(one("SELECT group_concat(record_id || ' ' || (person_id = ?)) FROM (SELECT * FROM sys_reads ORDER BY record_id)", ann)).toBe(
      "r1 1,r2 1",
    );
    expect(one("SELECT count(*) FROM sys_sessions")).toBe(0);
    expect(one("SELECT state FROM sys_messages")).toBe("failed");
    expect(p.file.db.pragma("foreign_key_check")).toEqual([]);
    must(restoreRecord(p.access, anne));
    expect(p.all()).toBe(before);
    expect(p.file.db.pragma("foreign_key_check")).toEqual([]);
  });

  it("whoever signs in already keeps their own way in; what was changed since stays", () => {
    const p = new Doubles();
    p.give();
    const [ann, anne] = [p.id("ann"), p.id("anne")];
    p.sql("INSERT INTO sys_credentials VALUES (?, 'own', 0, '2026-01-01')", ann);
    expect(must(mergeInto(p.file, p.owner, "people", ann, anne, true)).signsIn).toBe(true);
    expect(p.file.db.prepare("SELECT person_id, hash FROM sys_credentials").all()).toEqual([{ person_id: ann, hash: "own" }]);
    p.sql(`UPDATE t_people SET "${p.phone}" = '0999' WHERE id = ?`, ann);
    must(restoreRecord(p.access, anne));
    expect(p.file.db.prepare(`SELECT "${p.phone}" FROM t_people WHERE id = ?`).pluck().get(ann)).toBe("0999");
    expect(p.file.db.prepare("SELECT count(*) FROM sys_credentials").pluck().get()).toBe(2);
  });

  it("refuses oneself, nobody, and somebody whom the rules name; an address taken since keeps them in the bin", () => {
    const p = new Doubles();
    const [ann, anne] = [p.id("ann"), p.id("anne")];
    const refused = (stays: string, goes: string): string => {
      const r = mergeInto(p.file, p.owner, "people", stays, goes, true);
      return r.ok ? "done" : r.error;
    };
    expect(refused(ann, ann)).toMatch(/two different/);
    expect(refused(ann, "nobody")).toMatch(/two different/);
    const live = published(p.file).definition;
    const s = {
      id: "s",
      subject: { kind: "person" as const, person: anne, company: null },
      table: "t_people",
      claim: { kind: "nothing" as const, action: "export" as const },
    };
    storePublished(p.file, { ...live, safeguards: [s] }, PUBLISHER);
    expect(refused(ann, anne)).toMatch(/rules speak of Anne/);
    storePublished(p.file, live, PUBLISHER);
    expect(refused(ann, anne)).toBe("done");
    p.sql("UPDATE t_people SET f_person_email = 'anne@t.example', f_person_email_k = 'anne@t.example' WHERE id = ?", ann);
    expect(restoreRecord(p.access, anne)).toMatchObject({ ok: false });
    expect(p.file.db.prepare("SELECT count(*) FROM sys_removed").pluck().get()).toBe(1);
  });

  it("companies become one with their people, records and what was paid", () => {
    const p = new Doubles();
    p.give();
    const [ash, birch] = [p.company("Ash"), p.company("Birch")];
    p.add("projects", { title: "Of Birch", company: birch });
    p.sql("INSERT INTO sys_subscriptions (company_id, plan, state, time_zone) VALUES (?, 'plan', 'active', 'UTC')", birch);
    const before = p.all();
    const trial = must(mergeInto(p.file, p.owner, "companies", ash, birch, true));
    expect(trial).toMatchObject({ name: "Birch", to: "Ash", places: 1 });
    expect(
      p.file.db
        .prepare(`SELECT count(*) FROM "${p.table("projects").id}" WHERE company_id = ?`)
        .pluck()
        .get(ash),
    ).toBe(3);
    expect(p.file.db.prepare("SELECT company_id FROM sys_subscriptions").pluck().get()).toBe(ash);
    // Ann and Anne are both of Ash alone; nobody holds a place twice.
    expect(p.file.db.prepare("SELECT count(*) FROM sys_memberships WHERE company_id = ?").pluck().get(ash)).toBe(2);
    must(restoreRecord(p.access, birch));
    expect(p.all()).toBe(before);
    expect(p.file.db.prepare("SELECT company_id FROM sys_subscriptions").pluck().get()).toBe(birch);
  });
});

describe("a person removed", () => {
  it("hands over, empties, or leaves the name; each says so in numbers and is taken back whole", () => {
    for (const leaving of [{ kind: "hand" as const, to: "ann" }, { kind: "clear" as const }, { kind: "keep" as const }]) {
      const p = new Doubles();
      p.give();
      const [ann, anne] = [p.id("ann"), p.id("anne")];
      const how = leaving.kind === "hand" ? { ...leaving, to: ann } : leaving;
      const before = p.all();
      const trial = must(removePerson(p.file, p.owner, anne, how, false));
      expect(p.all()).toBe(before);
      expect(trial).toMatchObject({ name: "Anne", to: leaving.kind === "hand" ? "Ann" : null, places: 2, signsIn: true });
      expect(trial.pointing.reduce((n, x) => n + x.records, 0)).toBe(leaving.kind === "keep" ? 0 : 3);
      must(removePerson(p.file, p.owner, anne, how, true));
      const lead = p.file.db
        .prepare(`SELECT "${p.field("projects", "lead")}" FROM "${p.table("projects").id}" WHERE "${p.field("projects", "title")}" = 'P'`)
        .pluck()
        .get();
      expect(lead).toBe({ hand: ann, clear: null, keep: anne }[leaving.kind]);
      expect(p.file.db.prepare("SELECT count(*) FROM sys_credentials").pluck().get()).toBe(0);
      const left = p.file.db
        .prepare("SELECT f_person_name AS name, f_person_email AS email, f_person_status AS status FROM t_people WHERE id = ?")
        .get(anne);
      expect(left).toEqual(leaving.kind === "keep" ? { name: "Anne", email: null, status: "inactive" } : undefined);
      expect(schemaOf(p.file).people.fields.length).toBeGreaterThan(3);
      must(restoreRecord(p.access, anne));
      expect(p.all()).toBe(before);
    }
  });
});
