/**
 * How much a new kind asks for: a made-up one of each is put into its list, and the compiler names the files that must know of it. It takes
 * the compiler a while, so `npm run test:long` asks it; docs/adding.md has the steps.
 */
import { readFileSync } from "node:fs";
import { join } from "node:path";
import ts from "typescript";
import { describe, expect, it } from "vitest";
import { whole } from "./random";

const ROOT = join(import.meta.dirname, "../..");

/** A line that goes into a list, before the line that begins so; and the files that do not compile then. */
interface MadeUp {
  readonly kind: string;
  readonly list: string;
  readonly before: string;
  readonly line: string;
  readonly files: readonly string[];
}
const KINDS: readonly MadeUp[] = [
  {
    kind: "a type of field",
    list: "src/core/schema/fields/natures.ts",
    before: '  text: { is: "text"',
    line: '  colour: { is: "text", of: "line" },',
    files: ["src/core/schema/fields/index.ts", "src/data/tables/physical.ts", "src/ui/forms/fields.ts"],
  },
  {
    kind: "a section",
    list: "src/core/sections/index.ts",
    before: "  welcome,",
    line: '  map: { kind: "map", name: "Map", what: "Where it is", config: {}, reads: () => null, asks: false, heads: false, problems: () => [] },',
    files: ["src/core/pages/begin.ts", "src/features/pages/ui/editor/settings/index.tsx", "src/features/portal/sections/index.tsx"],
  },
  {
    kind: "a way to sign in",
    list: "src/identity/doors/settings.ts",
    before: "export const DOORS = {",
    line: "",
    files: ["src/features/portal/door/doors.ts"],
  },
  {
    kind: "a cycle of prices",
    list: "src/core/prices/cycles.ts",
    before: "  year: {",
    line: '  quarter: { months: 3, each: "a quarter", eachSeat: "a seat and quarter", name: "quarter" },',
    files: [
      "src/features/pay/quote.ts",
      "src/features/pay/ui/billing-page.tsx",
      "src/features/pay/ui/summary.tsx",
      "src/features/portal/ui/plans.tsx",
    ],
  },
  {
    kind: "an event",
    list: "src/core/events/kinds.ts",
    before: "export const EVENT_KINDS = {",
    line: "",
    files: ["src/letters/changes.ts"],
  },
];

function changed({ list, before, line, kind }: MadeUp): Map<string, string> {
  const path = join(ROOT, list);
  const text = readFileSync(path, "utf8");
  expect([list, text.includes(before)]).toEqual([list, true]);
  const put =
    kind === "a way to sign in"
      ? text.replace(before, `${before}\n  badge: { begins: true, shows: "device" },`)
      : kind === "an event"
        ? text.replace(before, `${before}\n  "badge-shown": { says: "showed a badge", of: "person", heard: "person" },`)
        : text.replace(before, `${line}\n${before}`);
  return new Map([[path, put]]);
}

/** Files of the product that do not compile with these texts in place of theirs. */
function brokenBy(texts: ReadonlyMap<string, string>, before?: ts.Program): { files: string[]; program: ts.Program } {
  const config = ts.readConfigFile(join(ROOT, "tsconfig.json"), ts.sys.readFile);
  const { options, fileNames } = ts.parseJsonConfigFileContent(config.config, ts.sys, ROOT);
  const host = ts.createCompilerHost({ ...options, noEmit: true, incremental: false });
  const read = host.readFile;
  host.readFile = (f) => texts.get(f) ?? read(f);
  const source = host.getSourceFile;
  const old = new Map(before?.getSourceFiles().map((f) => [f.fileName, f]));
  host.getSourceFile = (f, how, ...rest) => {
    const text = texts.get(f);
    if (text !== undefined) return ts.createSourceFile(f, text, how);
    return old.get(f) ?? source.call(host, f, how, ...rest);
  };
  const product = fileNames.filter((f) => !/\.test\.tsx?$|\/tests\/|\/bench\//.test(f));
  const program = ts.createProgram(product, { ...options, noEmit: true, incremental: false }, host);
  const found = product.flatMap((f) => {
    const file = program.getSourceFile(f);
    return file && program.getSemanticDiagnostics(file).length > 0 ? [f.slice(ROOT.length + 1)] : [];
  });
  return { files: [...new Set(found)].sort(), program };
}

function compiled(): void {
  let program: ts.Program | undefined;
  it("nothing is broken before", { timeout: 600_000 }, () => {
    const now = brokenBy(new Map());
    program = now.program;
    expect(now.files).toEqual([]);
  });
  it.each(KINDS)("$kind is a line in a list, and the files that the compiler names", { timeout: 600_000 }, (made) => {
    expect(brokenBy(changed(made), program).files).toEqual(made.files);
  });
}

if (whole) describe("a new kind", compiled);

it("docs/adding.md names the list of each kind and every file that must know of it", () => {
  const said = readFileSync(join(ROOT, "docs/adding.md"), "utf8");
  const missing = KINDS.flatMap((k) => [k.list, ...k.files].filter((f) => !said.includes(`\`${f}\``)).map((f) => `${k.kind}: ${f}`));
  expect(missing).toEqual([]);
});
