/** What a message in a conversation sets off: who is told by mail, of what, and who hears nothing. Called as the page calls it. */
import { beforeAll, beforeEach, expect, it, vi } from "vitest";
import type { Owner } from "@/core/access/who/viewer";
import type { Definition } from "@/core/definition/definition";
import type { Result } from "@/core/result";
import { ownFolder } from "@/testing/folder";
import { head, jar, nextRequest } from "@/testing/requests";
import { NEW_FORM } from "@/ui/forms/form";

vi.mock("next/headers", async () => (await import("@/testing/requests")).playedHeaders());
vi.mock("react", async (real) => ({ ...(await real<typeof import("react")>()), cache: (await import("@/testing/requests")).memoized }));
vi.mock("next/cache", () => ({ revalidatePath: () => {} }));

ownFolder();
const { createPortal } = await import("@/data/installation/portals");
const { makeTestSchema, MADE, PUBLISHER, testViewer } = await import("@/testing/world");
const { addCompany, addPerson } = await import("@/data/people/people");
const { insertRow } = await import("@/data/tables/store");
const { published, storePublished } = await import("@/data/definition/published");
const { startSession } = await import("@/identity/sessions/sessions");
const { schemaOf } = await import("@/data/tables/read");
const { talkInPortal } = await import("@/features/portal/records/talk-actions");
const { membershipsOf } = await import("@/data/people/people");

const must = <T, E>(r: Result<T, E>): T => {
  if (!r.ok) throw new Error(JSON.stringify(r.error));
  return r.value;
};
const owner = testViewer({ kind: "owner", company: null }) as Owner;
const open = () => {
  const made = createPortal("talk", "Talk", PUBLISHER);
  if ("problem" in made) throw new Error(made.problem);
  return made.file;
};
let file: ReturnType<typeof open>;
let signs = "";
const ids: Record<string, string> = {};

beforeAll(() => {
  file = open();
  const { t } = makeTestSchema(file, false);
  signs = t.signs;
  const schema = schemaOf(file);
  const field = (table: string, slug: string): string => schema.tableBySlug(table)!.fields.find((f) => f.slug === slug)!.id;
  const one = must(addCompany(file, owner, "One")).id;
  const two = must(addCompany(file, owner, "Two")).id;
  const person = (name: string, company: string | null, role: string): void => {
    const given = { name, email: `${name.toLowerCase()}@t.example`, memberships: [{ companyId: company, roles: [role] }] };
    ids[name] = must(addPerson(file, owner, given)).id;
  };
  const d = published(file).definition;
  const role = (id: string, side: "client" | "agency") => ({ id, name: id, side, includes: [] });
  const grant = (id: string, roles: string[], more: object): Definition["grants"][number] => ({
    id,
    roles,
    table: t.signs,
    actions: ["see"],
    filter: null,
    fields: schema.table(t.signs).fields.map((f) => f.id),
    changes: [],
    feature: null,
    validFrom: null,
    validUntil: null,
    ...more,
  });
  storePublished(
    file,
    {
      ...d,
      roles: [
        ...d.roles.filter((r) => !["lead", "looker", "desk"].includes(r.id)),
        role("lead", "client"),
        role("looker", "client"),
        role("desk", "agency"),
      ],
      acts: [{ id: "talk", name: "Write about it", table: t.signs, on: "talk", sets: [] }],
      walls: {
        ...d.walls,
        [t.projects]: { kind: "owned", path: [field("projects", "company")] },
        [t.signs]: { kind: "owned", path: [field("signs", "project"), field("projects", "company")] },
      },
      grants: [grant("g1", ["lead", "looker", "desk"], {}), grant("g2", ["lead", "desk"], { actions: [], acts: ["talk"] })],
    },
    PUBLISHER,
  );
  person("Dana", one, "lead");
  person("Piet", one, "lead");
  person("Wren", one, "looker");
  person("Rafe", two, "lead");
  person("Ines", null, "desk");
  file.db.prepare("UPDATE t_people SET f_person_status = 'active'").run();
  insertRow(file, schema.table(t.projects), "p1", { [field("projects", "title")]: "P", [field("projects", "company")]: one }, MADE);
  insertRow(file, schema.table(t.signs), "n1", { [field("signs", "code")]: "N1", [field("signs", "project")]: "p1" }, MADE);
  // Whose they are is worked out anew with each version.
  storePublished(file, published(file).definition, PUBLISHER);
});
beforeEach(() => void file.db.exec("DELETE FROM sys_talk; DELETE FROM sys_messages"));

/** As somebody, from the page of the sign. */
async function says(who: string | null, words: string, more: Record<string, string> = {}) {
  nextRequest();
  jar.clear();
  head.set("sec-fetch-site", "same-origin");
  head.set("x-elkhorn-portal", "talk");
  head.set("x-elkhorn-base", "");
  if (who) jar.set(`elkhorn_${file.id}`, startSession(file, ids[who]!, null, Date.now()));
  const acting = who ? (membershipsOf(file, ids[who]!)[0]?.id ?? "") : "visitor";
  const data = new FormData();
  for (const [name, value] of Object.entries({ $acting: acting, $table: signs, $id: "n1", words, ...more })) data.append(name, value);
  return talkInPortal(NEW_FORM, data);
}
const told = (): string[] => {
  const names = new Map(Object.entries(ids).map(([name, id]) => [id, name]));
  const all = file.db.prepare("SELECT person_id FROM sys_messages WHERE occasion = 'answered' ORDER BY rowid").pluck().all() as string[];
  return all.map((id) => names.get(id) ?? id).sort();
};

it("those who took part before are told; who writes is not, nor who only looks", async () => {
  expect(await says("Dana", "It flickers.")).toMatchObject({ errors: {}, done: "" });
  expect(told()).toEqual([]);
  expect(await says("Ines", "We come on Thursday.")).toMatchObject({ errors: {} });
  expect(told()).toEqual(["Dana"]);
  await says("Piet", "Thank you.");
  expect(told()).toEqual(["Dana", "Ines"]); // Dana not again so soon
  const letter = file.db.prepare("SELECT body FROM sys_messages WHERE person_id = ?").pluck().get(ids.Dana) as string;
  expect(letter).toContain("N1");
  expect(letter).not.toContain("We come on Thursday.");
});

it("a note of the agency's own is told to nobody", async () => {
  await says("Dana", "It flickers.");
  expect(await says("Ines", "Take the long ladder.", { inside: "1" })).toMatchObject({ errors: {} });
  expect(told()).toEqual([]);
});

it("who lost sight of the record since hears nothing of it", async () => {
  await says("Dana", "It flickers.");
  file.db.prepare("UPDATE sys_memberships SET roles = '[\"looker\"]' WHERE person_id = ?").run(ids.Dana);
  await says("Ines", "We come on Thursday.");
  file.db.prepare("UPDATE sys_memberships SET roles = '[\"lead\"]' WHERE person_id = ?").run(ids.Dana);
  expect(told()).toEqual([]);
});

it("another company, a lesser role, whoever is signed out, and a form opened as somebody else are refused, and nothing is kept", async () => {
  await says("Dana", "It flickers.");
  for (const who of ["Rafe", "Wren", null]) expect((await says(who, "Let me in")).message).toEqual(expect.any(String));
  expect((await says("Dana", "As another", { $acting: "visitor" })).message).toEqual(expect.any(String));
  expect((await says("Dana", "Of no record", { $id: "n2" })).message).toEqual(expect.any(String));
  expect((await says("Dana", "Of no table", { $table: "t_99" })).message).toEqual(expect.any(String));
  expect(file.db.prepare("SELECT body FROM sys_talk").pluck().all()).toEqual(["It flickers."]);
});

it("no words and too many are told beside the box, and what was typed is given back", async () => {
  expect((await says("Dana", "  ")).errors).toHaveProperty("words");
  const long = "x".repeat(20_000);
  const answer = await says("Dana", long);
  expect(answer.errors).toHaveProperty("words");
  expect(answer.values.words).toBe(long);
  expect(file.db.prepare("SELECT count(*) FROM sys_talk").pluck().get()).toBe(0);
});
