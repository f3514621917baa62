/** Every way in for a change asks who sends it: each exported action is made by one of the makers, or is named here with what it asks. */
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { expect, test } from "vitest";

const MAKERS =
  /^export const \w+ = (officeAction|officeCall|officeForm|draftAction|sold|staffForm|staffCall|portalAction|portalCall|portalForm)\(/;

/** What is open to somebody who is not signed in to the back office yet, or stands outside it. Each checks the origin itself. */
const BY_HAND: Record<string, readonly string[]> = {
  "src/app/-/names/actions.ts": ["addEntry", "dropEntry"],
  "src/features/office/actions.ts": ["signInToOffice", "giveOfficeSecond", "signOutOfOffice"],
  "src/features/office/setup.ts": ["setUp"],
  "src/features/office/staff.ts": ["acceptStaffForm"],
  "src/features/office/ways.ts": ["askOfficePasskey", "comeByOfficePasskey", "askForOfficeLink"],
};

const files = readdirSync("src", { recursive: true, withFileTypes: true })
  .filter((f) => f.isFile() && /\.tsx?$/.test(f.name) && !f.name.includes(".test."))
  .map((f) => join(f.parentPath, f.name))
  .filter((f) => /^"use server";/m.test(readFileSync(f, "utf8")));

test("every action is made by a maker that asks who sends it", () => {
  expect(files.length).toBeGreaterThan(30);
  const open = files.flatMap((f) =>
    readFileSync(f, "utf8")
      .split("\n")
      .filter((line) => /^export (async function|function|const|let|default)/.test(line) && !MAKERS.test(line))
      .map((line) => [f, /(?:function|const|let|default) (\w+)/.exec(line)?.[1] ?? line] as const)
      .filter(([file, name]) => !BY_HAND[file]?.includes(name)),
  );
  expect(open).toEqual([]);
});

test("what is made by hand asks for the origin, and is still there", () => {
  for (const [file, names] of Object.entries(BY_HAND)) {
    const text = readFileSync(file, "utf8");
    for (const name of names) {
      const at = text.indexOf(`export async function ${name}(`);
      expect(at, `${file} ${name}`).toBeGreaterThan(-1);
      const body = text.slice(at, text.indexOf("\n}\n", at));
      expect(body, `${file} ${name}`).toMatch(/sameOrigin\(\)|open\(\)/);
    }
  }
});
