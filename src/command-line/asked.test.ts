/** What is understood on the command line, and what is refused before anything is done. */
import { expect, it } from "vitest";
import { askedFor, COMMANDS, Refused, USAGE } from "./asked";

const ask = (line: string, env: Record<string, string> = {}) => askedFor(line.split(" ").filter(Boolean), env);
const refusal = (line: string, env: Record<string, string> = {}): [string, number] => {
  try {
    ask(line, env);
  } catch (e) {
    if (e instanceof Refused) return [e.message, e.status];
    throw e;
  }
  return ["", 0];
};

it("knows its commands, where they go, and what it is told of each", () => {
  expect(ask("import sites sites.csv --by Name --portal fernhill")).toMatchObject({
    command: "import",
    args: ["sites", "sites.csv"],
    by: "Name",
    portal: "fernhill",
    remote: null,
    format: "csv",
  });
  const remote = ask("export sites --at https://portal.example --json", { ELKHORN_KEY: "k" });
  expect([remote!.remote!.at.href, remote!.remote!.key, remote!.json]).toEqual(["https://portal.example/", "k", true]);
  expect([ask(""), ask("help"), ask("import --help")]).toEqual([null, null, null]);
  for (const command of Object.keys(COMMANDS)) expect(USAGE).toContain(`  ${command} `);
});

it.each([
  ["never", /no command/],
  ["import sites", /import TABLE FILE/],
  ["check too much", /elkhorn check/],
  ["export sites --format pdf", /csv, json or xlsx/],
  ["check --at ftp://portal.example", /https/],
  ["check --at https://portal.example", /ELKHORN_KEY/],
  ["check --at https://portal.example --data /srv", /one of/],
  ["check --colour", /colour/],
])("refuses “%s”", (line, words) => {
  expect(refusal(line)).toEqual([expect.stringMatching(words), 2]);
});
