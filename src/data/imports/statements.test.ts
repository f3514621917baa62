/** How many statements an import of a hundred rows makes: some for each of its columns, none for each of its rows. */
import { expect, it } from "vitest";
import { ImportTrial, importFolder, owner } from "@/testing/import-folder";
import { hear, statementsOf } from "@/testing/statements";
import { bringInImport } from "./jobs";

hear();
importFolder();

const told = (made: readonly string[]): string => `\n${made.map((sql) => sql.slice(0, 200)).join("\n")}`;
const rows = (from: number, count: number): string =>
  `Name,Client,Since\n${Array.from({ length: count }, (_, i) => `Thing ${from + i},Client ${i % 7},2026-01-0${1 + (i % 9)}`).join("\n")}\n`;
/** How often a page looks how far it is, is not the import's. */
const asksHowFar = (sql: string): boolean => /^select .* from "sys_imports"/.test(sql);

async function counted(t: ImportTrial, text: string) {
  const job = await t.drop(text);
  const plan = t.suggest(job);
  const checking = (await statementsOf(() => t.check(job, plan))).filter((sql) => !asksHowFar(sql));
  const bringing = await statementsOf(async () => expect((await bringInImport(t.file, owner, job.id)).ok).toBe(true));
  return { checking, bringing };
}

/** As a portal usually has them: the companies are there before their things come. */
it("at most 14 to check and 44 to bring in for a new table of three columns", async () => {
  const t = new ImportTrial();
  const clients = `Name\n${Array.from({ length: 7 }, (_, i) => `Client ${i}`).join("\n")}\n`;
  expect((await t.bring(clients, (job) => t.suggest(job, "t_companies"))).done.ok).toBe(true);
  const made = await counted(t, rows(0, 100));
  expect(made.checking.length, told(made.checking)).toBeLessThanOrEqual(14);
  expect(made.bringing.length, told(made.bringing)).toBeLessThanOrEqual(44);
});

it("at most 12 to check and 21 to bring in for three columns, of a hundred rows as of ten", async () => {
  const t = new ImportTrial();
  await counted(t, rows(0, 100));
  const ten = await counted(t, rows(100, 10));
  const hundred = await counted(t, rows(200, 100));
  expect(hundred.checking.length, told(hundred.checking)).toBeLessThanOrEqual(12);
  expect(hundred.bringing.length, told(hundred.bringing)).toBeLessThanOrEqual(21);
  expect(hundred.bringing.length).toBe(ten.bringing.length);
});
