/** Each type answers each question, and nobody asks for its name. */
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { FIELD_TYPES } from "./index";
import * as natures from "./natures";

const { NATURES, ...questions } = natures;
const SRC = join(import.meta.dirname, "../../..");

/** Files of code below `src`, without tests, the demo, and steps of migration, which know the types of their day. */
function code(): string[] {
  return readdirSync(SRC, { recursive: true, encoding: "utf8" }).filter(
    (f) => /\.tsx?$/.test(f) && !/\.test\.tsx?$|^demo\/|^testing\/|^data\/file\/steps\/|^core\/schema\/fields\//.test(f),
  );
}

describe("natures of the types of field", () => {
  it("each has one, and most questions tell types apart", () => {
    expect(Object.keys(NATURES).sort()).toEqual([...FIELD_TYPES].sort());
    const alike = new Map<string, string[]>();
    for (const type of FIELD_TYPES) {
      const answers = Object.entries(questions).map(([name, ask]) => `${name} ${(ask as (f: { type: string }) => boolean)({ type })}`);
      expect([type, answers.some((a) => a.endsWith("true"))]).toEqual([type, true]);
      alike.set(answers.join(), [...(alike.get(answers.join()) ?? []), type]);
    }
    // Files of any kind are no pictures, and no question is asked of them alone.
    expect([...alike.values()].filter((types) => types.length > 1)).toEqual([]);
  });
  it("a name that is no type is of no nature", () => {
    for (const [name, ask] of Object.entries(questions))
      for (const type of ["", "constructor", "toString", "made-at"])
        expect([name, (ask as (f: { type: string }) => boolean)({ type })]).toEqual([name, false]);
  });
  it("no code compares the name of a type: it asks a question", () => {
    const own = FIELD_TYPES.filter((t) => !["text", "number", "date"].includes(t)).join("|");
    const compared = new RegExp(`\\btype(?:\\s|\\))*(?:===|!==) "(?:${own})"`);
    const places = code().flatMap((f) =>
      readFileSync(join(SRC, f), "utf8")
        .split("\n")
        .flatMap((line, i) => (compared.test(line) ? [`${f}:${i + 1}: ${line.trim()}`] : [])),
    );
    expect(places).toEqual([]);
    expect(compared.test('if (f.type === "relations")')).toBe(true);
  });
});
