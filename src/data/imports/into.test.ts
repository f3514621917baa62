/** Files into tables that are there: known again by a key, matched by names, people and companies too; and taken back. */
import { describe, expect, it } from "vitest";
import { type ImportPlan, PROBLEM_COLUMNS } from "@/core/exchange/import-plan";
import { importFolder, owner, ImportTrial as Trial } from "@/testing/import-folder";
import { planOf, textColumn } from "@/testing/imports";
import { addField } from "../tables/change";
import { countOf } from "../tables/count";
import { bringInImport, type ImportJob } from "./jobs";

importFolder();
const SITES = "Site,Client,Town\nNorth Hall,Harbour Lights,Wexcombe\nSouth Hall,Pell Ferries,Wexcombe\nYard,Harbour Lights,Tarn\n";

describe("known again by a key", () => {
  it("the same file again changes nothing; a changed one updates, field by field; what it lacks is listed and left", async () => {
    const p = new Trial();
    const first = await p.bring(SITES, (job) => ({ ...p.suggest(job), table: { name: "Sites" } }));
    expect(first.done).toMatchObject({ ok: true, value: { table: "sites", added: 3, changed: 0 } });
    const again = await p.drop(SITES);
    const plan = p.suggest(again); // the mapping of the last time
    expect(plan).toMatchObject({ table: { id: p.table("sites").id }, key: 0 });
    expect((await p.check(again, plan)).result).toMatchObject({ fresh: 0, changed: 0, same: 3, bad: 0, fields: [], lacking: { count: 0 } });
    expect(await bringInImport(p.file, owner, again.id)).toMatchObject({ ok: true, value: { added: 0, changed: 0 } });

    const changed = await p.bring(
      "Site,Client,Town\nnorth hall,Harbour Lights,Brindle\nEast Hall,Pell Ferries,\n\nYard,Harbour Lights,Tarn\n",
    );
    expect(changed.job.result).toMatchObject({
      fresh: 1,
      changed: 1,
      same: 1,
      blank: 1,
      fields: [
        { name: "Site", rows: 1 },
        { name: "Town", rows: 1 },
      ],
      lacking: { count: 1, names: ["South Hall"] },
    });
    expect(changed.job.result!.examples[0]).toMatchObject({
      name: "North Hall",
      changes: [{}, { field: "Town", before: "Wexcombe", after: "Brindle" }],
    });
    expect(changed.done).toMatchObject({ ok: true, value: { added: 1, changed: 1 } });
    expect(countOf(p.file, p.table("sites").id)).toBe(4);
    expect(p.named("sites", "north hall").fields[p.field("sites", "town")]).toBe("Brindle");
  });

  it("an empty cell leaves what is there, or clears it, as chosen; rows of one key are refused or put over each other", async () => {
    const p = new Trial();
    await p.bring("Code,Note,Size\nA,one,1\nB,two,2\n", (job) => ({ ...p.suggest(job), table: { name: "Parts" } }));
    const file = "Code,Note,Size\nA,,3\nA,later,\n";
    const plan = (more: Partial<ImportPlan>) => (job: ImportJob) => ({ ...p.suggest(job), key: 0, ...more });
    const refused = await p.check(await p.drop(file), plan({})(await p.drop(file)));
    expect(refused.result).toMatchObject({ changed: 1, bad: 1, problems: [{ line: 3, reason: "Line 2 has the same key." }] });
    await p.bring(file, plan({ duplicates: "merge" }));
    const record = p.named("parts", "A");
    expect([record.fields[p.field("parts", "note")], record.fields[p.field("parts", "size")]]).toEqual(["later", 3]);
    await p.bring("Code,Note,Size\nA,,\n", plan({ empties: "clear" }));
    expect(p.named("parts", "A").fields).toMatchObject({ [p.field("parts", "note")]: null, [p.field("parts", "size")]: null });
  });

  it("only what the file changes is written: what somebody changed elsewhere since the check stands, and a record that is gone is told", async () => {
    const p = new Trial();
    await p.bring(SITES, (job) => ({ ...p.suggest(job), table: { name: "Sites" } }));
    const [sites, town] = [p.table("sites"), p.field("sites", "town")];
    const changing = SITES.replace("North Hall,Harbour Lights", "North Hall,Pell Ferries");
    const first = await p.drop(changing);
    await p.check(first, p.suggest(first));
    p.desk.change(sites, p.named("sites", "North Hall").id, { [town]: "Brindle" }, null);
    expect(await bringInImport(p.file, owner, first.id)).toMatchObject({ ok: true, value: { changed: 1 } });
    expect(p.named("sites", "North Hall").fields[town]).toBe("Brindle");
    const second = await p.drop(SITES);
    expect((await p.check(second, p.suggest(second))).result).toMatchObject({ changed: 1, same: 2 });
    p.desk.remove(sites, p.named("sites", "Yard").id); // one of those that are the same
    const gone = await bringInImport(p.file, owner, second.id);
    expect(gone).toEqual({ ok: false, error: "One record of this import was removed meanwhile. Check all rows again." });
  });

  it("more records than are read together: the same file changes nothing, and one row is found among them", async () => {
    const p = new Trial();
    const rows = Array.from({ length: 20_005 }, (_, i) => `No ${i},${i % 7}`);
    await p.bring(`Name,Size\n${rows.join("\n")}\n`, (job) => ({ ...p.suggest(job), table: { name: "Parts" } }));
    const keyed = (job: ImportJob): ImportPlan => ({ ...p.suggest(job), key: 0 });
    const again = await p.drop(`Name,Size\n${[...rows].reverse().join("\n")}\n`);
    expect((await p.check(again, keyed(again))).result).toMatchObject({ fresh: 0, changed: 0, same: 20_005, lacking: { count: 0 } });
    const { job } = await p.bring("Name,Size\nNo 10000,50\nno 9999,3\nNo 20004,5\nNo 20005,1\nNo 10000,51\n", keyed);
    expect(job.result).toMatchObject({
      fresh: 1,
      changed: 2,
      same: 1,
      bad: 1,
      fields: [
        { name: "Name", rows: 1 },
        { name: "Size", rows: 1 },
      ],
      problems: [{ line: 6, reason: "Line 2 has the same key." }],
    });
    expect(p.named("parts", "No 10000").fields[p.field("parts", "size")]).toBe(50);
  });

  it("in an owned table the key is each company's own", async () => {
    const p = new Trial();
    const text = "No,Client\n1,Ash\n1,Birch\n";
    await p.bring(text, () =>
      planOf({
        columns: [textColumn("No"), textColumn("Client")],
        company: 1,
        table: { name: "Jobs" },
        title: 0,
        key: 0,
      }),
    );
    expect(countOf(p.file, p.table("jobs").id)).toBe(2);
    const again = await p.drop(text);
    const checked = await p.check(again, p.suggest(again));
    expect(checked.result).toMatchObject({ bad: 2, problems: [{ reason: expect.stringContaining("More than one record has “1”") }, {}] });
  });
});

describe("the file of rows with problems", () => {
  const WRONG = `${PROBLEM_COLUMNS.join(",")},`;
  it("mended, goes where the rest went, by the same mapping", async () => {
    const p = new Trial();
    const named = (job: ImportJob): ImportPlan => ({ ...p.suggest(job), table: { name: "Makers" } });
    await p.bring("Forename,Surname,Client\nAda,Pell,Ash\nBo,Quay,Birch\n", named, "makers.csv");
    const more = await p.bring("Forename,Surname,Client\nCy,Tarn,Ash\nDi,Marl,Nobody\n", (job) => ({ ...p.suggest(job), key: 0 }));
    expect(more.job.result).toMatchObject({ fresh: 1, bad: 1 });
    const mended = await p.drop(
      `${WRONG}Forename,Surname,Client\n3,Client,There is no “Nobody”.,Di,Marl,Birch\n`,
      "rows-with-problems.csv",
    );
    const plan = p.suggest(mended);
    expect(plan).toMatchObject({ table: { id: p.table("makers").id }, key: 3 });
    expect(plan.columns.map((c) => c.to)).toEqual(["skip", "skip", "skip", "field", "behind", "field"]);
    expect((await p.check(mended, plan)).result).toMatchObject({ fresh: 1, bad: 0 });
    await bringInImport(p.file, owner, mended.id);
    expect(p.records("makers").map((r) => r.fields[p.table("makers").labelFieldId])).toEqual(["Ada Pell", "Bo Quay", "Cy Tarn", "Di Marl"]);
  });

  it("has no fields made of what it tells, where nothing has come yet", async () => {
    const p = new Trial();
    const job = await p.drop(`${WRONG}Code,Size\n2,Size,It is no number.,K1,4\n`);
    expect(p.suggest(job).columns.map((c) => c.to)).toEqual(["skip", "skip", "skip", "new", "new"]);
    const people = await p.drop(`${WRONG}Name,E-mail\n2,E-mail,It is no address.,Ada,ada@h.example\n`);
    expect(p.suggest(people).columns.map((c) => c.to)).toEqual(["skip", "skip", "skip", "field", "field"]);
  });
});

describe("a name in two columns", () => {
  it("of people is one, whatever stands first; the mapping is remembered and the same file changes nothing", async () => {
    const p = new Trial();
    const people =
      "Surname,First name,E-mail,Company\nPell,Ada Mary,ada@h.example,Ash\n Quay ,Bo,bo@p.example,Birch\n,Cy,cy@p.example,Birch\n";
    const first = await p.bring(people, undefined, "people.csv");
    expect(first.job.plan).toMatchObject({ columns: [{ to: "behind", at: 1 }, { to: "field", field: "f_person_name" }, {}, {}] });
    const names = () => p.records("people").map((r) => r.fields.f_person_name);
    expect(names()).toEqual(["Ada Mary Pell", "Bo Quay", "Cy"]);
    const again = await p.drop(people);
    const plan = p.suggest(again);
    expect(plan.columns[0]).toEqual({ to: "behind", at: 1 });
    expect((await p.check(again, plan)).result).toMatchObject({ fresh: 0, changed: 0, same: 3, bad: 0 });
    await p.bring(people.replace("Pell,Ada Mary", "Pell-Marsh,Ada Mary"));
    expect(names()).toEqual(["Ada Mary Pell-Marsh", "Bo Quay", "Cy"]);
  });

  it("of a new table names its records and can be what they are known by; a table with fields of its own keeps them apart", async () => {
    const p = new Trial();
    const file = "Ref,Forename,Surname,Town\n1,Ada,Pell,Tarn\n2,Ada,Quay,Tarn\n";
    await p.bring(file, (job) => ({ ...p.suggest(job), table: { name: "Makers" }, key: 1, title: 1 }), "makers.csv");
    const label = () => p.records("makers").map((r) => r.fields[p.table("makers").labelFieldId]);
    expect(label()).toEqual(["Ada Pell", "Ada Quay"]);
    // The key is the whole of it: another Ada is another record.
    const more = await p.bring("Town,Surname,Forename\nTarn,Pell,Ada\nBrindle,Ash,Ada\n", (job) => ({
      ...p.suggest(job, p.table("makers").id),
      key: 2,
    }));
    expect(more.job.result).toMatchObject({ fresh: 1, changed: 0, same: 1, bad: 0 });
    for (const name of ["Forename", "Surname"]) addField(p.file, "t_people", { slug: name.toLowerCase(), name, type: "text" });
    const apart = await p.drop("Forename,Surname,E-mail,Name\nAda,Pell,ada@h.example,Ada P.\n");
    expect(p.suggest(apart, "t_people").columns.map((c) => c.to)).toEqual(["field", "field", "field", "field"]);
  });
});
