/** Relations, people and companies that an import meets or makes, and its way back. */
import { describe, expect, it } from "vitest";
import type { ImportPlan } from "@/core/exchange/import-plan";
import { importFolder, owner, ImportTrial as Trial } from "@/testing/import-folder";
import { draftOf } from "../definition/draft";
import { published } from "../definition/published";
import { membershipsOf, personIdByEmail } from "../people/people";
import { fillAutomatic } from "../schema/fill";
import { retype } from "../schema/retype";
import { addField } from "../tables/change";
import { countOf } from "../tables/count";
import { schemaOf } from "../tables/read";
import { bringInImport, type ImportJob, takeBackImport } from "./jobs";
import { undoLosses } from "./undo";

importFolder();
const SITES = "Site,Client,Town\nNorth Hall,Harbour Lights,Wexcombe\nSouth Hall,Pell Ferries,Wexcombe\nYard,Harbour Lights,Tarn\n";

describe("relations", () => {
  it("by name, e-mail or any column; the table and the column are guessed from the values", async () => {
    const p = new Trial();
    await p.bring(SITES, (job) => ({ ...p.suggest(job), table: { name: "Sites" } }));
    await p.bring(
      "Name,E-mail,Company\nAda Pell,ada@h.example,Harbour Lights\nBo Quay,bo@p.example,Pell Ferries\n",
      undefined,
      "people.csv",
    );
    const job = await p.drop("Ref,Where,Asked by\nR1,Yard,ada@h.example\nR2,South Hall,bo@p.example\n", "requests.csv");
    const plan = p.suggest(job);
    expect(plan.columns).toMatchObject([
      { to: "new", type: "text" },
      { to: "new", type: "relation", target: p.table("sites").id },
      { to: "new", type: "relation", target: "t_people", by: "f_person_email" },
    ]);
    expect([plan.title, plan.whose, plan.starters]).toEqual([0, { kind: "column", at: 1 }, ["own"]]);
    await p.check(job, plan);
    expect(await bringInImport(p.file, owner, job.id)).toMatchObject({ ok: true, value: { added: 2 } });
    const requests = p.table("requests");
    // Through the site: whose the site is, the request is.
    expect(draftOf(p.file, owner).definition.walls[requests.id]).toEqual({
      kind: "owned",
      path: [p.field("requests", "where"), p.field("sites", "client")],
    });
    expect(draftOf(p.file, owner).definition.grants).toMatchObject([
      { roles: ["everyone"], actions: ["see"], table: p.table("sites").id },
      { roles: ["everyone"], actions: ["see"], table: requests.id },
    ]);
    expect(published(p.file).definition.grants).toEqual([]);
  });

  it("what names nothing is listed with what is near, taken for it where the owner says so, and made only if asked", async () => {
    const p = new Trial();
    await p.bring(SITES, (job) => ({ ...p.suggest(job), table: { name: "Sites" } }));
    const text = "Site,Client,Town\nQuay,Harbour Lites,Tarn\nMill,Brindle Mills,Tarn\n";
    const job = await p.drop(text);
    const plan = p.suggest(job);
    const checked = await p.check(job, plan);
    expect([checked.result!.bad, countOf(p.file, "t_companies")]).toEqual([2, 2]);
    const [lites, mills] = ["Harbour Lites", "Brindle Mills"].map((t) => checked.result!.missed.find((m) => m.text === t)!);
    expect(lites).toMatchObject({ rows: 1, canAdd: true, nearest: [{ name: "Harbour Lights" }] });
    expect(mills!.nearest).toEqual([]);
    const taken = {
      ...plan,
      columns: plan.columns.map((c, i) => (i === 1 ? { ...c, as: { "harbour lites": lites!.nearest[0]!.id }, add: true } : c)),
    } as ImportPlan;
    const second = await p.check(job, taken);
    expect(second.result).toMatchObject({ fresh: 2, bad: 0, adds: [{ of: "Companies", names: ["Brindle Mills"], count: 1 }] });
    await bringInImport(p.file, owner, job.id);
    expect(countOf(p.file, "t_companies")).toBe(3);
  });

  it("somebody of another company in an owned record is a problem, somebody of the agency is not", async () => {
    const p = new Trial();
    await p.bring(SITES, (job) => ({ ...p.suggest(job), table: { name: "Sites" } }));
    await p.bring("Name,E-mail,Company\nAda,ada@h.example,Harbour Lights\n", undefined, "people.csv");
    await p.bring(
      "Name,E-mail\nZoe,zoe@agency.example\n",
      (job) => ({ ...p.suggest(job, "t_people"), whose: { kind: "agency" }, role: "staff" }),
      "staff.csv",
    );
    const job = await p.drop("Ref,Company,Contact\nA,Pell Ferries,Ada\nB,Harbour Lights,Ada\nC,Pell Ferries,Zoe\n", "cards.csv");
    const checked = await p.check(job, p.suggest(job));
    expect(checked.result).toMatchObject({ good: 2, bad: 1 });
    expect(checked.result!.problems[0]!.reason).toBe("“Ada” belongs to Harbour Lights, not to the company that the row belongs to.");
  });
});

describe("people and companies", () => {
  it("people with their company, role and further fields; the same file again changes nothing, a second company is added", async () => {
    const p = new Trial();
    const text =
      "Full name,E-Mail,Client,Role,Telephone\nAda Pell,ada@h.example,Harbour Lights,Lead,020 7946 0000\nBo,bo@p.example,Pell Ferries,Lead,\n";
    const { job, done } = await p.bring(text, undefined, "contacts.csv");
    expect(job.plan!.columns).toMatchObject([
      { field: "f_person_name" },
      { field: "f_person_email" },
      { field: "f_person_companies", add: true },
      { to: "role" },
      { to: "new", type: "telephone" },
    ]);
    expect(done).toMatchObject({ ok: true, value: { added: 2 } });
    const ada = personIdByEmail(p.file, "ada@h.example")!;
    expect(membershipsOf(p.file, ada)).toMatchObject([{ companyName: "Harbour Lights", roles: ["lead"] }]);
    expect(p.desk.read(schemaOf(p.file).people, ada)!.fields[p.field("people", "telephone")]).toBe("020 7946 0000");
    const again = await p.bring(text);
    expect(again.job.result).toMatchObject({ fresh: 0, changed: 0, same: 2 });
    const second = await p.bring("Full name,E-Mail,Client,Role,Telephone\nAda P. Pell,ADA@h.example,Pell Ferries,Lead,\n");
    expect(second.job.result).toMatchObject({ changed: 1, fields: [{ name: "Name" }, { name: "E-mail" }, { name: "Companies" }] });
    expect(membershipsOf(p.file, ada).map((m) => m.companyName)).toEqual(["Harbour Lights", "Pell Ferries"]);
    const wrong = await p.bring(
      "Full name,E-Mail,Client,Role,Telephone\nX,x@x.example,Nobody,Lead,\nY,y@x.example,Pell Ferries,Chief,\nZ,no,Pell Ferries,Lead,\n,w@x.example,Pell Ferries,Lead,\n",
    );
    expect(wrong.job.result!.problems.map((x) => x.reason)).toEqual([
      "There is no “Nobody” to point to.",
      "There is no client role “Chief”.",
      expect.stringContaining("is not an e-mail address"),
      "It is empty, and this field is needed.",
    ]);
  });

  it("companies with fields of their own, known by their name", async () => {
    const p = new Trial();
    const { done } = await p.bring("Company,Region,Since\nAsh,North,2019\nBirch,South,2021\n", undefined, "companies.csv");
    expect(done).toMatchObject({ ok: true, value: { table: "companies", added: 2 } });
    expect(p.named("companies", "Ash").fields[p.field("companies", "region")]).toBe("North");
    const again = await p.bring("Company,Region,Since\nash,West,2019\n");
    expect(again.job.result).toMatchObject({ fresh: 0, changed: 1 });
    expect(p.file.db.prepare("SELECT f_company_name, f_company_slug FROM t_companies ORDER BY 1").raw().all()).toEqual([
      ["Birch", "birch"],
      ["ash", "ash"],
    ]);
  });
});

describe("taken back", () => {
  it("a new table goes, with its companies, wall and grants; nothing is left", async () => {
    const p = new Trial();
    const before = p.file.db.prepare("SELECT name FROM sqlite_master ORDER BY 1").pluck().all();
    const { job } = await p.bring(SITES, (j) => ({ ...p.suggest(j), table: { name: "Sites" } }));
    expect(undoLosses(p.file, owner, job.id)).toMatchObject({ touched: 0, pointing: 0, others: 0 });
    expect(await takeBackImport(p.file, owner, job.id, false)).toEqual({ ok: true, value: { removed: 3, restored: 0, left: 0 } });
    expect([p.table("sites"), countOf(p.file, "t_companies"), draftOf(p.file, owner).definition.grants]).toEqual([undefined, 0, []]);
    expect(p.file.db.prepare("SELECT name FROM sqlite_master ORDER BY 1").pluck().all()).toEqual(before);
    expect((await takeBackImport(p.file, owner, job.id, false)).ok).toBe(false);
  });

  it("what it changed is as it was, and what it added is gone; fields that it made too", async () => {
    const p = new Trial();
    await p.bring(SITES, (j) => ({ ...p.suggest(j), table: { name: "Sites" } }));
    const state = () =>
      p.file.db
        .prepare(`SELECT f.* FROM "${p.table("sites").id}" f ORDER BY id`)
        .all()
        .map((r) => ({ ...(r as object), version: 0, changed_at: 0, changed_by: 0 }));
    const before = state();
    const { job } = await p.bring("Site,Client,Town,Floor\nNorth Hall,Pell Ferries,Brindle,3\nMill,Harbour Lights,Tarn,4\n", (j) => ({
      ...p.suggest(j, p.table("sites").id),
      columns: p
        .suggest(j, p.table("sites").id)
        .columns.map((c, i) => (i === 3 ? { to: "new", name: "Floor", type: "number", order: "iso", decimals: 0 } : c)),
    }));
    expect(job.result).toMatchObject({ fresh: 1, changed: 1 });
    expect(await takeBackImport(p.file, owner, job.id, false)).toEqual({ ok: true, value: { removed: 1, restored: 1, left: 0 } });
    expect(state()).toEqual(before);
  });

  it("addresses that were made from what it changed are as they were; what became of another type since is touched", async () => {
    const p = new Trial();
    await p.bring("Ref,Site,Client,Town\n1,Mill,Ash,Five\n", (j) => ({ ...p.suggest(j), table: { name: "Sites" }, title: 1 }));
    const at = addField(p.file, p.table("sites").id, {
      slug: "at",
      name: "At",
      type: "readable-address",
      options: { madeFrom: p.field("sites", "site") },
    });
    fillAutomatic(p.file, owner, at);
    const held = () => p.records("sites").map((r) => [r.fields[at], r.fields[p.field("sites", "town")]]);
    const again = "Ref,Site,Client,Town\n1,Old Mill,Ash,Six\n";
    const keyed = (j: ImportJob) => ({ ...p.suggest(j, p.table("sites").id), key: 0 });
    const first = await p.bring(again, keyed);
    expect(held()).toEqual([["old-mill", "Six"]]);
    expect(await takeBackImport(p.file, owner, first.job.id, false)).toMatchObject({ value: { restored: 1, left: 0 } });
    expect(held()).toEqual([["mill", "Five"]]);
    const second = await p.bring(again, keyed);
    const town = p.field("sites", "town");
    expect(
      retype(p.file, owner, { field: town, type: "choice", options: {}, reading: {}, by: null, add: false, rest: "refuse" } as never).ok,
    ).toBe(true);
    expect(undoLosses(p.file, owner, second.job.id)).toMatchObject({ touched: 1 });
    expect(await takeBackImport(p.file, owner, second.job.id, true)).toMatchObject({ value: { restored: 0, left: 1 } });
    expect(held()[0]![0]).toBe("old-mill");
  });

  it("what somebody touched since is listed, and refuses; or is left, and the rest taken back", async () => {
    const p = new Trial();
    const { job } = await p.bring(SITES, (j) => ({ ...p.suggest(j), table: { name: "Sites" } }));
    p.desk.change(p.table("sites"), p.named("sites", "Yard").id, { [p.field("sites", "town")]: "Here" }, null);
    addField(p.file, "t_companies", { slug: "main", name: "Main site", type: "relation", options: { target: p.table("sites").id } });
    const company = p.records("companies")[0]!.id;
    p.desk.change(p.table("companies"), company, { [p.field("companies", "main")]: p.named("sites", "North Hall").id }, null);
    expect(undoLosses(p.file, owner, job.id)).toMatchObject({
      touched: 1,
      pointing: 1,
      names: expect.arrayContaining(["Yard", "North Hall"]),
    });
    expect((await takeBackImport(p.file, owner, job.id, false)).ok).toBe(false);
    expect(countOf(p.file, p.table("sites").id)).toBe(3);
    expect(await takeBackImport(p.file, owner, job.id, true)).toEqual({ ok: true, value: { removed: 1, restored: 0, left: 2 } });
    expect(p.records("sites").map((r) => r.fields[p.table("sites").labelFieldId])).toEqual(["North Hall", "Yard"]);
  });

  it("people who were added go, unless they have been in", async () => {
    const p = new Trial();
    const { job } = await p.bring("Name,E-mail,Company\nAda,ada@h.example,Ash\nBo,bo@p.example,Birch\n", undefined, "people.csv");
    p.file.db.prepare("INSERT INTO sys_credentials VALUES (?, 'x', 0, 'now')").run(personIdByEmail(p.file, "ada@h.example"));
    expect(undoLosses(p.file, owner, job.id)).toMatchObject({ signedIn: 1, names: ["Ada"] });
    expect(await takeBackImport(p.file, owner, job.id, true)).toEqual({ ok: true, value: { removed: 1, restored: 0, left: 1 } });
    expect([countOf(p.file, "t_people"), countOf(p.file, "t_companies")]).toEqual([1, 1]);
  });
});
