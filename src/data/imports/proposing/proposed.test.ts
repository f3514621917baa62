/** What an import proposes: values before memory, the least role, and every problem of a row at once. */
import { describe, expect, it } from "vitest";
import { type ImportPlan, planProblems } from "@/core/exchange/import-plan";
import { importFolder, owner, ImportTrial as Trial } from "@/testing/import-folder";
import { published } from "../../definition/published";
import { changeChoices } from "../../schema/choices";
import { seenOf } from "../../schema/shape";
import { schemaOf } from "../../tables/read";
import { badRows } from "../checking/stage";
import { bringInImport } from "../jobs";

importFolder();

const PARTS = 'Code,Made,Weight\nA1,2026-03-04,"1,5"\nA2,2026-03-25,"2,5"\n';
async function parts(): Promise<Trial> {
  const p = new Trial();
  await p.bring(PARTS, (job) => ({ ...p.suggest(job), table: { name: "Parts" } }));
  return p;
}
const columnOf = (plan: ImportPlan, at: number) => plan.columns[at] as { to: string; order?: string; mark?: string | null };

describe("what an earlier import says", () => {
  it("is remembered where it brought something in, and not before", async () => {
    const p = await parts();
    const table = p.table("parts").id;
    const other = (job: Parameters<typeof p.suggest>[0]): ImportPlan => {
      const plan = p.suggest(job);
      return { ...plan, columns: plan.columns.map((c, i) => (i === 2 ? { to: "skip" } : c)) };
    };
    const checkedOnly = await p.drop(PARTS);
    await p.check(checkedOnly, other(checkedOnly));
    expect(p.suggest(await p.drop(PARTS)).columns[2]).toMatchObject({ to: "field" });
    // Brought in without a change: the mapping has not shown that it is right.
    expect((await p.bring(PARTS, other)).done).toMatchObject({ ok: true, value: { added: 0, changed: 0 } });
    expect(p.suggest(await p.drop(PARTS))).toMatchObject({ table: { id: table }, columns: [{}, {}, { to: "field" }] });
    expect((await p.bring(PARTS.replace("A2", "A3"), other)).done).toMatchObject({ ok: true, value: { added: 1 } });
    expect(p.suggest(await p.drop(PARTS)).columns[2]).toEqual({ to: "skip" });
  });

  it("gives way to what stands in the file: how dates and decimals are written, and a key that knows nobody", async () => {
    const p = await parts();
    const dated = await p.drop("Code,Made,Weight\nA1,25/03/2026,1.7\nA9,26/03/2026,2.2\n");
    const plan = p.suggest(dated);
    expect([columnOf(plan, 1).order, columnOf(plan, 2).mark, plan.key]).toEqual(["day-first", ".", 0]);
    expect((await p.check(dated, plan)).result).toMatchObject({ fresh: 1, changed: 1, bad: 0 });
    const strange = await p.drop("Code,Made,Weight\nZ1,2026-03-04,\nZ2,2026-03-05,\n");
    expect(p.suggest(strange)).toMatchObject({ key: null, columns: [{ to: "field" }, { to: "field" }, {}] });
    expect(p.suggest(strange, p.table("parts").id).key).toBeNull();
  });
});

describe("people", () => {
  it("have the role that allows least; a column called Job is one where its words are roles", async () => {
    const p = new Trial();
    const jobs = await p.drop("Name,E-mail,Company,Job\nAda,ada@h.example,Ash,Welder\nBo,bo@h.example,Ash,Fitter\n");
    const { definition } = published(p.file);
    const rights = (role: string): number => definition.grants.filter((g) => g.roles.includes(role)).length;
    const plan = p.suggest(jobs, schemaOf(p.file).people.id);
    expect(plan.columns[3]).toMatchObject({ to: "new", name: "Job" });
    const clients = definition.roles.filter((r) => r.side === "client" && r.id !== "everyone");
    expect(rights(plan.role!)).toBe(Math.min(...clients.map((r) => rights(r.id))));
    const named = clients[0]!.name;
    const roles = await p.drop(`Name,E-mail,Company,Job\nAda,ada@h.example,Ash,${named}\nBo,bo@h.example,Ash,${named}\n`);
    expect(p.suggest(roles, schemaOf(p.file).people.id).columns[3]).toEqual({ to: "role" });
  });
});

describe("rows with problems", () => {
  it("tell all of them at once, and are not among those that the file lacks", async () => {
    const p = await parts();
    const job = await p.drop("Code,Made,Weight\nA1,neither,heavy\nA2,2026-03-25\nA7,2026-03-25,light\n");
    const plan = { ...p.suggest(await p.drop(PARTS)), key: 0 };
    const { result } = await p.check(job, plan);
    expect(result!.problems.map((x) => [x.line, x.column])).toEqual([
      [2, "Made"],
      [2, "Weight"],
      [3, "the whole row"],
      [4, "Weight"],
    ]);
    expect(result).toMatchObject({ bad: 3, lacking: { count: 0, names: [] } });
    const [first] = [...badRows(job.id)];
    expect([first!.column, first!.reason.startsWith("Made: "), first!.reason.includes(" Weight: ")]).toEqual(["Made, Weight", true, true]);
    expect(first!.cells).toEqual(["A1", "neither", "heavy"]);
    const lacks = await p.drop("Code,Made,Weight\nA1,neither,\n");
    expect((await p.check(lacks, plan)).result!.lacking).toEqual({ count: 1, names: ["A2"] });
  });

  it("make nothing that they alone name", async () => {
    const p = new Trial();
    await p.bring("Sign,Client,Fitted,Kind\nA,Ash,2026-03-04,Oak\nB,Ash,2026-03-05,Oak\n", (job) => {
      const plan = p.suggest(job);
      const columns = plan.columns.map((c, i) => (i === 3 ? { ...c, type: "choice" as const, choices: ["Oak"] } : c));
      return { ...plan, table: { name: "Signs" }, columns: columns as ImportPlan["columns"] };
    });
    const job = await p.drop("Sign,Client,Fitted,Kind\nC,Birch,never,Elm\nD,Cedar,2026-03-05,Larch\nD,Doe,2026-03-05,Fir\n");
    const suggested = p.suggest(job, p.table("signs").id);
    const columns = suggested.columns.map((c) => (c.to === "field" ? { ...c, add: true } : c));
    const { result } = await p.check(job, { ...suggested, columns, key: null });
    expect(result!.adds.map((a) => [a.of, a.names])).toEqual([
      ["Companies", ["Cedar", "Doe"]],
      ["the choices of Kind", ["Larch", "Fir"]],
    ]);
    const again = await p.check(await p.drop("Sign,Client,Fitted,Kind\nD,Cedar,2026-03-05,\nD,Cedar,2026-03-06,Yew\n"), {
      ...suggested,
      columns,
      key: 0,
    });
    expect(again.result).toMatchObject({ bad: 1, adds: [{ of: "Companies", names: ["Cedar"] }] });
  });

  it("two new rows cannot share what no two records may", async () => {
    const p = new Trial();
    await p.bring("Name,E-mail,Company\nAda,ada@h.example,Ash\n");
    const both = await p.drop("Company\nBirch\nBirch\n");
    const people = schemaOf(p.file).companies.id;
    const { result } = await p.check(both, { ...p.suggest(both, people), duplicates: "refuse" });
    expect(result).toMatchObject({ fresh: 1, bad: 1 });
  });
});

describe("a column of choices", () => {
  const KILNS = "Kiln,Firing\nOne,Bisque; Raku\nTwo,Glaze\nThree,Bisque\n";
  it("offers the words that stand in it, whatever it was guessed to be", async () => {
    const p = new Trial();
    const job = await p.drop(KILNS);
    expect([job.analysis.columns[1]!.type, job.analysis.columns[1]!.choices]).toEqual(["text", ["Bisque", "Bisque; Raku", "Glaze"]]);
    const many = await p.drop(`Kiln\n${Array.from({ length: 300 }, (_, i) => `Kiln ${i}`).join("\n")}\n`);
    expect(many.analysis.columns[0]!.choices).toEqual([]);
    const asChoice = { ...p.suggest(many), columns: [{ to: "new", name: "Kiln", type: "choice", order: "iso" }] } as ImportPlan;
    expect(planProblems(asChoice, many.analysis.header, schemaOf(p.file)).map((x) => x.at)).toContain(0);
  });

  it("takes a choice by what it was called before", async () => {
    const p = new Trial();
    await p.bring("Kiln,Firing\nOne,Bisque\nTwo,Glaze\n", (job) => {
      const plan = p.suggest(job);
      const columns = plan.columns.map((c, i) => (i === 1 ? { ...c, type: "choice" as const, choices: ["Bisque", "Glaze"] } : c));
      return { ...plan, table: { name: "Kilns" }, columns: columns as ImportPlan["columns"] };
    });
    const field = () => schemaOf(p.file).field(p.field("kilns", "firing"));
    const rename = (from: string, to: string): void => {
      const choices = field().options.choices!.map((c) => ({ id: c.id, name: c.name === from ? to : c.name }));
      expect(changeChoices(p.file, owner, field().id, { choices, instead: {} }, seenOf(field())).ok).toBe(true);
    };
    rename("Bisque", "First firing");
    rename("First firing", "Biscuit");
    const job = await p.drop("Kiln,Firing\nOne,bisque\nThree,First firing\nFour,Biscuit\nFive,Raku\n");
    const { result } = await p.check(job, { ...p.suggest(job, p.table("kilns").id), key: 0 });
    expect(result).toMatchObject({ same: 1, fresh: 2, bad: 1 });
    await bringInImport(p.file, owner, job.id);
    expect(new Set(["One", "Three", "Four"].map((n) => p.named("kilns", n).fields[field().id])).size).toBe(1);
    // What is called so now wins over what was.
    rename("Glaze", "Bisque");
    const now = await p.drop("Kiln,Firing\nSix,Bisque\n");
    await p.check(now, { ...p.suggest(now, p.table("kilns").id), key: 0 });
    await bringInImport(p.file, owner, now.id);
    expect(p.named("kilns", "Six").fields[field().id]).toBe(p.named("kilns", "Two").fields[field().id]);
  });
});
