import { expect, it } from "vitest";
import { checkDefinition, definitionProblems } from "@/core/definition/definition";
import { allPagesOf } from "@/core/pages/all-pages";
import { aroundOf, sectionProblems } from "@/core/pages/problems";
import { addBuiltInTables } from "@/data/tables/built-in";
import { schemaOf } from "@/data/tables/read";
import { memoryPortal } from "@/testing/world";
import { demoDefinition } from "./definition";
import { libraryDefinition } from "./library/definition";
import { makeLibraryTables } from "./library/tables";
import { makeTables } from "./tables";

it("the library's rules and pages hold, too", () => {
  const file = memoryPortal();
  addBuiltInTables(file);
  const t = makeLibraryTables(file);
  const schema = schemaOf(file);
  const d = libraryDefinition(schema, t);
  const read = checkDefinition(d);
  expect(read.ok ? [] : read.error).toEqual([]);
  expect(definitionProblems(d, schema)).toEqual([]);
  const book = allPagesOf(d, schema);
  const wrong = book.pages.flatMap((p) =>
    book.sections(p.id).flatMap((s) => sectionProblems(s, aroundOf(p, book, d.acts, schema)).map((x) => `${p.name}: ${x}`)),
  );
  expect(wrong).toEqual([]);
});

it("the demo's rules and pages hold: nothing keeps its draft from being changed, and every section shows", () => {
  const file = memoryPortal();
  addBuiltInTables(file);
  makeTables(file);
  const schema = schemaOf(file);
  const d = demoDefinition(schema, "saltmarsh");
  const read = checkDefinition(d);
  expect(read.ok ? [] : read.error).toEqual([]);
  expect(definitionProblems(d, schema)).toEqual([]);
  const book = allPagesOf(d, schema);
  const wrong = book.pages.flatMap((p) =>
    book.sections(p.id).flatMap((s) => sectionProblems(s, aroundOf(p, book, d.acts, schema)).map((x) => `${p.name}: ${x}`)),
  );
  expect(wrong).toEqual([]);
});
