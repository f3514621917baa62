/** Words of a file that are no choices of the field: told with what is near, taken for one, or made choices; and taken back. */
import { describe, expect, it } from "vitest";
import type { ImportPlan } from "@/core/exchange/import-plan";
import { fold } from "@/core/text/fold";
import { ImportTrial, importFolder, owner } from "@/testing/import-folder";
import { changeChoices, MOST_CHOICES } from "../../schema/choices";
import { seenOf } from "../../schema/shape";
import { addField } from "../../tables/change";
import { schemaOf } from "../../tables/read";
import { takeBackImport } from "../jobs";

importFolder();

async function begun() {
  const p = new ImportTrial();
  await p.bring("Kiln,Firing\nOne,Bisque\nTwo,Glaze\nThree,Bisque\nFour,Glaze\n", (job) => {
    const plan = p.suggest(job);
    const columns = plan.columns.map((c, i) => (i === 1 ? { ...c, type: "choice" as const, choices: ["Bisque", "Glaze"] } : c));
    return { ...plan, table: { name: "Kilns" }, columns: columns as ImportPlan["columns"] };
  });
  const firing = p.field("kilns", "firing");
  const words = () =>
    schemaOf(p.file)
      .field(firing)
      .options.choices!.map((c) => c.name);
  const into = (more: object) => (job: Parameters<typeof p.suggest>[0]) => {
    const plan = p.suggest(job, p.table("kilns").id);
    return {
      ...plan,
      key: 0,
      columns: plan.columns.map((c) => (c.to === "field" && c.field === firing ? { ...c, ...more } : c)) as ImportPlan["columns"],
    };
  };
  return { p, firing, words, into };
}

const MORE = "Kiln,Firing\nFive,Glazed\nSix,Raku\nSeven,raku\nOne,Raku\nEight,Glaze\n";

describe("words that are no choices", () => {
  it("stay out with their rows unless asked for, and what is near is offered", async () => {
    const { p, words, into } = await begun();
    const { job } = await p.bring(MORE, into({}));
    expect(job.result).toMatchObject({ fresh: 1, bad: 4 });
    expect(job.result!.problems[0]!.reason).toBe("“Glazed” is not one of: Bisque, Glaze.");
    const missed = job.result!.missed.map((m) => [m.of, m.text, m.rows, m.canAdd, m.nearest.map((x) => x.name)]);
    expect(missed).toEqual([
      ["the choices of Firing", "Raku", 3, true, []],
      ["the choices of Firing", "Glazed", 1, true, ["Glaze"]],
    ]);
    expect(words()).toEqual(["Bisque", "Glaze"]);
  });

  it("are taken for one that is there, or become choices once; taken back they are gone again", async () => {
    const { p, firing, words, into } = await begun();
    const glaze = schemaOf(p.file)
      .field(firing)
      .options.choices!.find((c) => c.name === "Glaze")!.id;
    const { job, done } = await p.bring(MORE, into({ add: true, as: { [fold("Glazed")]: glaze } }));
    expect(job.result).toMatchObject({ fresh: 4, changed: 1, bad: 0, adds: [{ of: "the choices of Firing", names: ["Raku"], count: 1 }] });
    expect(job.result!.examples[0]!.changes).toEqual([{ field: "Firing", before: "Bisque", after: "Raku" }]);
    expect(done).toMatchObject({ ok: true, value: { added: 4, changed: 1 } });
    expect(words()).toEqual(["Bisque", "Glaze", "Raku"]);
    const raku = schemaOf(p.file).field(firing).options.choices![2]!.id;
    expect(["Five", "Six", "Seven", "One"].map((k) => p.named("kilns", k).fields[firing])).toEqual([glaze, raku, raku, raku]);
    // The mapping that is kept asks for nothing: the next file is looked at anew.
    expect(p.suggest(await p.drop(MORE)).columns[1]).toMatchObject({ add: false, as: { glazed: glaze } });
    expect(await takeBackImport(p.file, owner, job.id, false)).toMatchObject({ ok: true });
    expect(words()).toEqual(["Bisque", "Glaze"]);
  });

  it("one that somebody uses meanwhile stays when the import is taken back", async () => {
    const { p, firing, words, into } = await begun();
    const { job } = await p.bring(MORE, into({ add: true }));
    const raku = schemaOf(p.file)
      .field(firing)
      .options.choices!.find((c) => c.name === "Raku")!.id;
    expect(p.desk.change(p.table("kilns"), p.named("kilns", "Two").id, { [firing]: raku }, null).ok).toBe(true);
    expect(await takeBackImport(p.file, owner, job.id, true)).toMatchObject({ ok: true });
    expect(words()).toEqual(["Bisque", "Glaze", "Raku"]);
  });

  it("several in a cell, and no more than a field may have", async () => {
    const { p } = await begun();
    const kilns = p.table("kilns").id;
    const uses = addField(p.file, kilns, {
      slug: "uses",
      name: "Uses",
      type: "choices",
      options: { choices: [{ name: "Tiles" }] } as never,
    });
    const to = (job: Parameters<typeof p.suggest>[0]): ImportPlan => {
      const plan = p.suggest(job, kilns);
      const columns = plan.columns.map((c, i) => (i === 1 ? { to: "field", field: uses, order: "iso", add: true } : c));
      return { ...plan, key: 0, columns: columns as ImportPlan["columns"] };
    };
    await p.bring('Kiln,Uses\nOne,"Tiles; Bowls, Cups"\nTwo,\nThree,bowls\n', to);
    const names = schemaOf(p.file).field(uses).options.choices!;
    expect(names.map((c) => c.name)).toEqual(["Tiles", "Bowls", "Cups"]);
    expect(["One", "Two", "Three"].map((k) => p.named("kilns", k).fields[uses])).toEqual([names.map((c) => c.id), [], [names[1]!.id]]);
    const field = schemaOf(p.file).field(uses);
    const full = Array.from({ length: MOST_CHOICES - 3 }, (_, i) => ({ id: null, name: `Use ${i}` }));
    expect(changeChoices(p.file, owner, uses, { choices: [...names, ...full], instead: {} }, seenOf(field)).ok).toBe(true);
    const { job } = await p.bring("Kiln,Uses\nOne,Vases\n", to);
    expect(job.result!.problems[0]!.reason).toBe(`A field has ${MOST_CHOICES} choices at the most.`);
  });
});
