import { describe, expect, it } from "vitest";
import { isLinks } from "@/core/schema/seen";
import { must, testPortal } from "@/testing/portal";
import { chooseRecords, namedRecords } from "./choose";
import { formFields } from "./form";

const portal = () => {
  const p = testPortal({
    grants: [
      { roles: ["lead"], table: "projects" },
      { roles: ["lead"], table: "sites" },
      { roles: ["onlooker"], table: "sites" },
      { roles: ["lead"], table: "signs", actions: ["see", "add", "change"], changes: ["code", "project", "also"] },
    ],
  });
  return { p, dana: p.person("Dana", "One", "lead") };
};
const labels = (found: { records: readonly { label: string }[] }): string[] => found.records.map((r) => r.label);

describe("records to choose from", () => {
  it("any of many is found by a part of its name; names before other words, and whether there are more is said", () => {
    const { p, dana } = portal();
    for (let i = 0; i < 700; i++) p.add("projects", { title: `Way ${String(i).padStart(3, "0")}`, company: p.company("One") });
    const table = p.table("projects");
    expect(labels(chooseRecords(dana, table, "way 699"))).toEqual(["Way 699"]);
    expect(chooseRecords(dana, table, "way").more).toBe(true);
    expect(chooseRecords(dana, table, "").records).toHaveLength(20);
    expect(chooseRecords(dana, table, "nothing is called this")).toEqual({ records: [], more: false });
  });

  it("another company's are neither found nor named, and somebody signed out finds none", () => {
    const { p, dana } = portal();
    const theirs = p.add("projects", { title: "Secret of Two", company: p.company("Two") });
    const table = p.table("projects");
    for (const who of [dana, p.visitor(), p.person("Lesser", "One", "onlooker")]) {
      expect([
        labels(chooseRecords(who, table, "secret")),
        labels(chooseRecords(who, table, theirs)),
        namedRecords(who, table, [theirs]),
      ]).toEqual([[], [], []]);
    }
    expect(labels(chooseRecords(p.owners, table, "secret"))).toEqual(["Secret of Two"]);
  });

  it("two companies of one name are told apart by their addresses, one alone is not", () => {
    const { p } = portal();
    const { companies } = p.owners.schema;
    const two = p.company("Two");
    const all = () => labels(chooseRecords(p.owners, companies, ""));
    expect(all()).toContain("Two");
    p.file.db.prepare("UPDATE t_companies SET f_company_name = 'One', f_company_name_k = 'one' WHERE id = ?").run(two);
    expect(all().filter((x) => x.startsWith("One"))).toEqual(["One (one)", "One (two)"]);
  });

  it("a form has the value that is there, whatever its place among the others", () => {
    const { p, dana } = portal();
    const first = p.project("One");
    for (let i = 0; i < 600; i++) p.add("projects", { title: `New ${i}`, company: p.company("One") });
    const sign = p.add("signs", { code: "N1", project: first });
    const record = dana.read(p.table("signs"), sign)!;
    const field = formFields(dana, dana.changeable(p.table("signs"), sign), record).find((f) => f.name === "Project")!;
    expect([field.value, field.chosen]).toEqual([[first], [{ value: first, label: "Project of One" }]]);
  });
});

describe("a list of records of which somebody sees some", () => {
  it("keeps the others where they give it anew, and takes none that they do not see", () => {
    const { p, dana } = portal();
    const signs = p.table("signs");
    const [mine, also] = ["Hall", "Yard"].map((title) => p.add("sites", { name: title, company: p.company("One") })) as [string, string];
    const [theirs, foreign] = ["Mill", "Quay"].map((title) => p.add("sites", { name: title, company: p.company("Two") })) as [
      string,
      string,
    ];
    const sign = p.add("signs", { code: "N1", project: p.project("One"), also: [mine, theirs] });
    const held = (): unknown => p.owners.read(signs, sign)!.fields[p.field("signs", "also")];
    const ids = (): string[] => {
      const v = held();
      return isLinks(v as never) ? (v as { id: string }[]).map((l) => l.id).sort() : [];
    };
    must(dana.change(signs, sign, p.values("signs", { also: [also] }), null));
    expect(ids()).toEqual([also, theirs].sort());
    must(dana.change(signs, sign, p.values("signs", { also: [] }), null));
    expect(ids()).toEqual([theirs]);
    // Given by hand, an id that stands there unseen is answered like one of anywhere else: the answer tells nothing.
    const refusals = [theirs, foreign, "nothing-of-this-id"].map((x) => dana.change(signs, sign, p.values("signs", { also: [x] }), null));
    expect(refusals.map((r) => r.ok)).toEqual([false, false, false]);
    expect(new Set(refusals.map((r) => JSON.stringify(r))).size).toBe(1);
    expect(ids()).toEqual([theirs]);
    expect(formFields(dana, dana.changeable(signs, sign), dana.read(signs, sign)!).find((f) => f.name === "Also at")).toMatchObject({
      value: [],
      withheld: true,
    });
    // For the owner, who sees all, what is given is all.
    must(p.owners.change(signs, sign, p.values("signs", { also: [mine] }), null));
    expect(ids()).toEqual([mine]);
  });

  it("keeps them, too, where the list is filled in beside an act", () => {
    const p = testPortal({
      grants: [
        { roles: ["lead"], table: "sites" },
        { roles: ["lead"], table: "signs" },
        { roles: ["lead"], table: "signs", actions: [], acts: ["survey"], changes: ["also"] },
      ],
      acts: (x) => [
        {
          id: "survey",
          name: "Survey",
          table: x.table("signs").id,
          on: "change",
          sets: [{ field: x.field("signs", "lit"), to: { kind: "literal", value: true } }],
        },
      ],
    });
    const signs = p.table("signs");
    const theirs = p.add("sites", { name: "Mill", company: p.company("Two") });
    const mine = p.add("sites", { name: "Hall", company: p.company("One") });
    const sign = p.add("signs", { code: "N1", project: p.project("One"), also: [theirs] });
    const dana = p.person("Dana", "One", "lead");
    const survey = (also: string[]) => dana.act(dana.acts(signs)[0]!, sign, p.values("signs", { also }));
    expect(survey([theirs]).ok).toBe(false);
    must(survey([mine]));
    const held = p.owners.read(signs, sign)!.fields[p.field("signs", "also")] as readonly { id: string }[];
    expect(held.map((l) => l.id).sort()).toEqual([mine, theirs].sort());
  });
});
