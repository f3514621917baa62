/** Any table, exported and imported with its key, changes nothing: random values of every type that an import takes. */

import fc from "fast-check";
import { expect, it } from "vitest";
import type { Owner } from "@/core/access/who/viewer";
import { toCell } from "@/core/exchange/present";
import { csvLines } from "@/core/exchange/write-csv";
import { cleanLine } from "@/core/schema/fields/text";
import type { FieldType, Value } from "@/core/schema/types";
import { importFolder } from "@/testing/import-folder";
import { planOf, toField } from "@/testing/imports";
import { runs, said, seed } from "@/testing/random";
import { PUBLISHER, testViewer } from "@/testing/world";
import { published } from "../definition/published";
import { createPortal } from "../installation/portals";
import { addCompany } from "../people/people";
import { Desk } from "../records/desk";
import { addTable } from "../tables/change";
import { schemaOf } from "../tables/read";
import { beginImport, importJob, startCheck } from "./jobs";

importFolder();
const owner = testViewer({ kind: "owner", company: null }) as Owner;

const words = fc.oneof(
  fc.string({ unit: "grapheme", maxLength: 30 }),
  fc.constantFrom(
    'a "quoted" one',
    "comma, semicolon; tab\t",
    "=1+1",
    "-5",
    "@home",
    "line\nbreak",
    "مرحبا",
    "שלום",
    "日本語",
    "Ωμέγα",
    "👩‍🚀🎉",
    "'tis",
    "007",
    "NULL",
    "true",
    " spaced ",
  ),
);
const optional = <T>(a: fc.Arbitrary<T>) => fc.option(a, { nil: null, freq: 4 });
/** Of every type: what its values are, as they are stored. */
const VALUES: Partial<Record<FieldType, fc.Arbitrary<Value>>> = {
  text: optional(words.map((w) => cleanLine(w) || "x")),
  "long-text": optional(words.map((w) => w.normalize("NFC").trim() || "x")),
  number: optional(fc.integer({ min: -1e12, max: 1e12 })),
  money: optional(fc.integer({ min: -1e12, max: 1e12 })),
  percent: optional(fc.integer({ min: -1e6, max: 1e6 })),
  date: optional(
    fc.date({ min: new Date("1900-01-01"), max: new Date("2100-01-01"), noInvalidDate: true }).map((d) => d.toISOString().slice(0, 10)),
  ),
  "date-time": optional(fc.integer({ min: -2e9, max: 4e9 }).map((s) => new Date(s * 1000).toISOString())),
  email: optional(fc.constantFrom("ada@x.example", "bo.o'hara@y.example")),
  telephone: optional(fc.constantFrom("020 7946 0000", "+44 20 7946 0001", "(0609) 123 4567")),
  "web-address": optional(fc.constantFrom("https://x.example/a?b=c,d", "http://y.example/ü")),
  "yes-no": optional(fc.boolean()),
  choice: optional(fc.constantFrom("c1", "c2")),
  choices: fc.subarray(["c1", "c2"]),
};

it(`${said(100)} tables of every type (seed ${seed}; set ELKHORN_SEED to repeat)`, { timeout: 120_000 }, async () => {
  const made = createPortal("round", "P", PUBLISHER);
  if ("problem" in made) throw new Error(made.problem);
  const { file } = made;
  const companies = ["Ash, & Sons", 'The "Birch"', "Ωμέγα"].map((name) => {
    const added = addCompany(file, owner, name);
    if (!added.ok) throw new Error(added.error.message);
    return added.value.id;
  });
  const types = Object.keys(VALUES) as FieldType[];
  const table = addTable(file, {
    slug: "all",
    name: "All",
    singular: "One",
    fields: [
      { slug: "code", name: "Code", type: "text", options: { unique: true } },
      ...types.map((type) => ({
        slug: `x-${type}`,
        name: `A ${type}`,
        type,
        options: type.startsWith("choice")
          ? {
              choices: [
                { id: "c1", name: "Oak, oiled" },
                { id: "c2", name: "Slate" },
              ],
            }
          : {},
      })),
      { slug: "client", name: "Client", type: "relation", options: { target: "t_companies" } },
      { slug: "clients", name: "Clients", type: "relations", options: { target: "t_companies" } },
    ],
  });
  const t = schemaOf(file).table(table);
  const record = fc.tuple(
    ...types.map((type) => VALUES[type]!),
    fc.option(fc.constantFrom(...companies), { nil: null }),
    fc.subarray(companies),
  );
  await fc.assert(
    fc.asyncProperty(fc.array(record, { minLength: 1, maxLength: 12 }), async (rows) => {
      file.db.exec(`DELETE FROM "${table}"; DELETE FROM "l_${t.fields.at(-1)!.id}"`);
      const desk = new Desk(file, published(file).policy, owner);
      for (const [i, r] of rows.entries()) {
        const values = Object.fromEntries([[t.fields[0]!.id, `K${i}`], ...r.map((v, j) => [t.fields[j + 1]!.id, v as Value])]) as Record<
          string,
          Value
        >;
        const done = desk.add(t, values);
        if (!done.ok) throw new Error(JSON.stringify(done.error));
      }
      const { records } = desk.list(t, { limit: 50 });
      const csv = csvLines([t.fields.map((f) => f.name), ...records.map((r) => t.fields.map((f) => toCell(f, r.fields[f.id])))]);
      const begun = await beginImport(file, owner, "all.csv", new Blob([csv]).stream());
      if (!begun.ok) throw new Error(begun.error);
      const { id } = begun.value;
      startCheck(
        file,
        owner,
        id,
        planOf({ table: { id: table }, columns: t.fields.map((f) => toField(f.id)), key: 0, empties: "clear", whose: { kind: "as-is" } }),
      );
      while (importJob(file, owner, id)!.state === "checking") await new Promise((r) => setTimeout(r, 2));
      const { result } = importJob(file, owner, id)!;
      expect([result!.problems, result!.examples, result!.fresh, result!.changed, result!.same]).toEqual([[], [], 0, 0, rows.length]);
    }),
    { seed, numRuns: runs(100) },
  );
});
