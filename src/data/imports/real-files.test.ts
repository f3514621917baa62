/** Real files of others: twenty of the data package vega-datasets, brought in as they are guessed and taken out again, equal cell by cell. */
import { readFileSync } from "node:fs";
import { join } from "node:path";
import Papa from "papaparse";
import { expect, it } from "vitest";
import type { Owner } from "@/core/access/who/viewer";
import { toCell } from "@/core/exchange/present";
import { kindOf } from "@/core/schema/types";
import { importFolder } from "@/testing/import-folder";
import { PUBLISHER, testViewer } from "@/testing/world";
import { published } from "../definition/published";
import { createPortal } from "../installation/portals";
import { Desk } from "../records/desk";
import { schemaOf } from "../tables/read";
import { beginImport, bringInImport, importJob, startCheck } from "./jobs";
import { suggestPlan } from "./proposing/suggest";

const data = join(import.meta.dirname, "../../../node_modules/vega-datasets/data");
const FILES = [
  "airports.csv",
  "co2-concentration.csv",
  "disasters.csv",
  "flights-airport.csv",
  "gapminder-health-income.csv",
  "github.csv",
  "global-temp.csv",
  "iowa-electricity.csv",
  "la-riots.csv",
  "lookup_groups.csv",
  "lookup_people.csv",
  "population_engineers_hurricanes.csv",
  "seattle-weather-hourly-normals.csv",
  "seattle-weather.csv",
  "sp500.csv",
  "stocks.csv",
  "unemployment.tsv",
  "us-employment.csv",
  "weather.csv",
  "windvectors.csv",
];
importFolder();
const owner = testViewer({ kind: "owner", company: null }) as Owner;

/** What a cell of the file means, whatever way it is written: numbers by value, moments by instant, the rest as it stands. */
function meaning(text: string, type: string, order: string): unknown {
  const t = text.trim().normalize("NFC");
  if (t === "") return null;
  if (type === "number" || type === "percent" || type === "money") return Number(t.replace(/[^\d.eE+-]/g, ""));
  if (type === "yes-no") return ["yes", "true", "1", "y", "on"].includes(t.toLowerCase());
  if (type === "date-time") return new Date(/Z|[+-]\d\d:?\d\d$/.test(t) ? t : `${t}Z`).getTime() || t;
  if (type === "date" && order !== "iso") {
    const [a = "", b = "", year = ""] = t.split(/[/. -]/);
    return `${year}-${(order === "day-first" ? b : a).padStart(2, "0")}-${(order === "day-first" ? a : b).padStart(2, "0")}`;
  }
  return t;
}

it.each(FILES)("%s", async (name) => {
  const made = createPortal(`real-${FILES.indexOf(name)}`, "P", PUBLISHER);
  if ("problem" in made) throw new Error(made.problem);
  const { file } = made;
  const text = readFileSync(join(data, name), "utf8");
  const begun = await beginImport(file, owner, name, new Blob([text]).stream());
  if (!begun.ok) throw new Error(begun.error);
  const { id } = begun.value;
  const { analysis } = importJob(file, owner, id)!;
  const plan = suggestPlan({ file, owner, analysis, fileName: name }, null);
  startCheck(file, owner, id, plan);
  while (importJob(file, owner, id)!.state === "checking") await new Promise((r) => setTimeout(r, 3));
  const { result } = importJob(file, owner, id)!;
  const rows = (
    Papa.parse(text.replace(/^\ufeff/, ""), { delimiter: name.endsWith("tsv") ? "\t" : ",", skipEmptyLines: "greedy" }).data as string[][]
  ).slice(1);
  expect([result!.problems, result!.good]).toEqual([[], rows.length]);
  const done = await bringInImport(file, owner, id);
  if (!done.ok) throw new Error(done.error);
  const table = schemaOf(file).tableBySlug(done.value.table)!;
  const desk = new Desk(file, published(file).policy, owner);
  const order = file.db.prepare(`SELECT id FROM "${table.id}" ORDER BY rowid`).pluck().all() as string[];
  const fields = analysis.header.map((h) => table.fields.find((f) => f.name === h.slice(0, 80)));
  let differing = 0;
  for (const [i, recordId] of order.entries()) {
    const record = desk.read(table, recordId)!;
    for (const [c, f] of fields.entries()) {
      if (!f) continue;
      const out = toCell(f, record.fields[f.id]);
      const got = f.type === "date-time" && out !== null ? new Date(String(out)).getTime() : out;
      const want = meaning(rows[i]![c] ?? "", f.type, analysis.columns[c]!.dateOrder);
      if (f.type === "date-time" && typeof want === "string") continue; // in the portal's own clock: compared in the types' tests
      if (got !== want && differing++ < 3) expect([name, f.name, kindOf(f).name, got]).toEqual([name, f.name, kindOf(f).name, want]);
    }
  }
  expect([order.length, differing]).toEqual([rows.length, 0]);
});
