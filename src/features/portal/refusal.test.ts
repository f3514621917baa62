import { beforeEach, describe, expect, it } from "vitest";
import type { Viewer } from "@/core/access/who/viewer";
import type { Condition } from "@/core/schema/condition";
import { storePublished } from "@/data/definition/published";
import type { PortalFile } from "@/data/file/open";
import { emptyDefinition } from "@/data/installation/portals";
import { schemaOf } from "@/data/tables/read";
import { insertRow } from "@/data/tables/store";
import { MADE, makeTestSchema, memoryPortal, PUBLISHER, testViewer } from "@/testing/world";
import { refusalsOn, rulesHere } from "./refusal";
import { portalRequest } from "./testing";

let file: PortalFile;
const table = (slug: string) => schemaOf(file).tableBySlug(slug)!;
const id = (slug: string, field: string): string => table(slug).fields.find((f) => f.slug === field)!.id;
const staff = testViewer({ company: null, roles: ["staff"] });

const at = (path: string, viewer: Viewer = staff) => portalRequest(file, viewer, path);
const test = (path: string[], operator: "at-most" | "is" | "is-not", value: string | number): Condition => ({
  kind: "test",
  path,
  operator,
  operands: [{ kind: "literal", value }],
});

/** Staff see signs that are not totems, without their cost; they change those that cost little, at one site, and remove none. */
beforeEach(() => {
  file = memoryPortal();
  const { t } = makeTestSchema(file);
  const cheap: Condition = {
    kind: "all",
    of: [
      test([id("signs", "cost")], "at-most", 1000),
      test([id("signs", "site"), id("sites", "name")], "is", "North"),
      test([id("signs", "size")], "at-most", 2),
    ],
  };
  const line = (grant: string, actions: ("see" | "change")[], filter: Condition, roles = ["staff"]) => ({
    id: grant,
    roles,
    table: t.signs,
    actions,
    filter,
    fields: [id("signs", "code"), id("signs", "size")],
    changes: [id("signs", "size")],
  });
  storePublished(
    file,
    {
      ...emptyDefinition("Test"),
      roles: [
        { id: "staff", name: "Staff", side: "agency", includes: [], companyId: null, about: "" },
        { id: "lead", name: "Lead", side: "client", includes: [], companyId: null, about: "" },
      ],
      walls: { ...emptyDefinition("Test").walls, [t.signs]: { kind: "shared" } },
      grants: [line("see", ["see"], test([id("signs", "type")], "is-not", "Totem"), ["staff", "lead"]), line("change", ["change"], cheap)],
    },
    PUBLISHER,
  );
  insertRow(file, table("sites"), "s1", { [id("sites", "name")]: "Secret Yard" }, MADE);
  const sign = (key: string, type: string, size: number) =>
    insertRow(
      file,
      table("signs"),
      key,
      {
        [id("signs", "code")]: key,
        [id("signs", "type")]: type,
        [id("signs", "cost")]: 987654,
        [id("signs", "site")]: "s1",
        [id("signs", "size")]: size,
      },
      MADE,
    );
  sign("door", "Door", 7);
  sign("totem", "Totem", 7);
});

describe("of a record that they see", () => {
  it("the agency's people are told step by step, with the values that they read there and no other", () => {
    const [change, remove] = refusalsOn(at("/signs/door"), table("signs"), "door");
    const text = change!.steps.map((s) => s.text).join("\n");
    expect(change!.action).toBe("change");
    expect(text).toContain("Size is 7, and the grant asks that it is at most 2");
    expect(text).toContain("It asks for more that you do not read here.");
    // Nor which of the hidden tests failed: dear or cheap, at this yard or that one, the words are the same.
    for (const [cost, site] of [
      [1, "s1"],
      [1, null],
      [987654, null],
    ]) {
      file.db
        .prepare(`UPDATE "${table("signs").id}" SET "${id("signs", "cost")}" = ?, "${id("signs", "site")}" = ? WHERE id = 'door'`)
        .run(cost, site);
      expect(refusalsOn(at("/signs/door"), table("signs"), "door")).toEqual([change, remove]);
    }
    expect(text).not.toMatch(/9,?876|Secret/);
    expect(remove!.steps.map((s) => s.text)).toContain("No grant lets the person's roles remove Signs.");
  });
  it("clients are told nothing, nor anybody of a record that they do not see or that is not there", () => {
    const lead = testViewer({ roles: ["lead"] });
    expect(refusalsOn(at("/signs/door", lead), table("signs"), "door")).toEqual([]);
    expect(refusalsOn(at("/signs/totem"), table("signs"), "totem")).toEqual([]);
    expect(refusalsOn(at("/signs/never"), table("signs"), "never")).toEqual([]);
  });
});

describe("where they find nothing", () => {
  it("the agency's people read the rules for what the address asks, whether the record is there or not", () => {
    expect(rulesHere(at("/signs/totem"))).toEqual({ action: "see", words: ["Staff and Lead may see Signs where Type is not “Totem”."] });
    expect(rulesHere(at("/signs/never"))).toEqual(rulesHere(at("/signs/totem")));
    expect(rulesHere(at("/signs/totem/change"))).toMatchObject({
      action: "change",
      words: [expect.stringMatching(/^Staff may change Signs where/)],
    });
    expect(rulesHere(at("/signs/new?x=1"))).toEqual({ action: "add", words: ["No grant lets the person's roles add Signs."] });
  });
  it("a list that is not open to them reads like one that does not exist, and clients read nothing", () => {
    expect(rulesHere(at("/projects"))).toEqual(rulesHere(at("/never")));
    expect(rulesHere(at("/projects"))!.words).toEqual(["No grant of your roles opens anything at this address."]);
    expect(rulesHere(at("/signs/totem", testViewer({ roles: ["lead"] })))).toBeNull();
    expect(rulesHere(at("/signs", testViewer({ company: null, membershipId: null })))).toBeNull(); // a person of no company
    expect(rulesHere(at("/signs", testViewer({ kind: "visitor", person: null, company: null, membershipId: null })))).toBeNull();
  });
});
