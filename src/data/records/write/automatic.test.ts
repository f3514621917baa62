/** Numbers in order and readable addresses: given once each, to whom they belong, and never twice. */
import { describe, expect, it } from "vitest";
import type { Field } from "@/core/schema/types";
import { addField } from "@/data/tables/change";
import { schemaOf } from "@/data/tables/read";
import { must, type TestPortal, testPortal } from "@/testing/portal";
import type { OwnerDesk } from "../desk";

function withField(slug: string, type: Field["type"], options: object): { p: TestPortal; id: string; desk: OwnerDesk } {
  const p = testPortal({ grants: [] });
  const id = addField(p.file, p.table("projects").id, { slug, name: slug, type, options });
  p.file.statements.clear();
  return { p, id, desk: p.owners };
}
type Made = ReturnType<typeof withField>;
const projects = ({ desk }: Made) => desk.schema.tableBySlug("projects")!;
const add = (m: Made, title: string, company: string, own: string | null = null): string =>
  must(
    m.desk.add(projects(m), {
      ...m.p.values("projects", { title, company: m.p.company(company) }),
      ...(own === null ? {} : { [m.id]: own }),
    }),
  ).id;
const has = (m: Made, record: string): unknown => m.desk.read(projects(m), record)!.fields[m.id];

describe("a number in order", () => {
  it("is given to each new record, with its prefix and zeros", () => {
    const m = withField("number", "serial", { prefix: "P-", digits: 3, perCompany: false });
    expect(["Ash", "Birch", "Ash"].map((c) => has(m, add(m, "One", c)))).toEqual(["P-001", "P-002", "P-003"]);
  });
  it("begins for each company where it is the company's own", () => {
    const m = withField("number", "serial", { prefix: "", digits: 2, perCompany: true });
    expect(["Ash", "Birch", "Ash", "Birch"].map((c) => has(m, add(m, "One", c)))).toEqual(["01", "01", "02", "02"]);
  });
  it("that came from elsewhere is not given again, nor is one of a record that is gone", () => {
    const m = withField("number", "serial", { prefix: "P-", digits: 3, perCompany: false });
    add(m, "Old", "Ash", "P-041");
    const next = add(m, "New", "Ash");
    expect(has(m, next)).toBe("P-042");
    m.desk.remove(projects(m), next);
    expect(has(m, add(m, "Newer", "Ash"))).toBe("P-043");
    add(m, "Otherwise", "Ash", "X-900");
    expect(has(m, add(m, "Newest", "Ash"))).toBe("P-044");
  });
  it("is not spent on what is refused", () => {
    const m = withField("number", "serial", { prefix: "", digits: 1, perCompany: false });
    expect(m.desk.add(projects(m), m.p.values("projects", { title: "None", company: "nobody" })).ok).toBe(false);
    expect(has(m, add(m, "First", "Ash"))).toBe("1");
  });
});

describe("a readable address", () => {
  const withAddress = (): Made => {
    const p = testPortal({ grants: [] });
    const id = addField(p.file, p.table("projects").id, {
      slug: "address",
      name: "Address",
      type: "readable-address",
      options: { madeFrom: p.field("projects", "title") },
    });
    p.file.statements.clear();
    return { p, id, desk: p.owners };
  };
  const rename = (m: Made, record: string, title: string): void =>
    void must(m.desk.change(projects(m), record, m.p.values("projects", { title }), null));

  it("follows what it is made from, in letters that an address takes", () => {
    const m = withAddress();
    const id = add(m, "Café façade — 2nd phase", "Ash");
    expect(has(m, id)).toBe("cafe-facade-2nd-phase");
    rename(m, id, "Shop front");
    expect(has(m, id)).toBe("shop-front");
  });
  it("has a number behind it where it is taken in the same company, and none in another", () => {
    const m = withAddress();
    expect(["Ash", "Ash", "Birch"].map((c) => has(m, add(m, "Lobby", c)))).toEqual(["lobby", "lobby-1", "lobby"]);
  });
  it("that was left still leads to its record, and is given to no other", () => {
    const m = withAddress();
    const first = add(m, "Lobby", "Ash");
    rename(m, first, "Hall");
    const second = add(m, "Lobby", "Ash");
    expect(has(m, second)).toBe("lobby-1");
    expect(m.desk.readByAddress(projects(m), "lobby")?.id).toBe(first);
    rename(m, first, "Lobby");
    expect(has(m, first)).toBe("lobby");
  });
  it("is what the record is called where nothing of it can be written", () => {
    const m = withAddress();
    expect(has(m, add(m, "!!!", "Ash"))).toBe("project");
    expect(schemaOf(m.p.file).field(m.id).options.madeFrom).toBe(m.p.field("projects", "title"));
  });
});
