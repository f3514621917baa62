/** `elkhorn COMMAND …`: see asked.ts. Writes what it says to standard output, and why not to standard error. */
import { isAbsolute, resolve } from "node:path";
import { type Asked, askedFor, Refused, type Said, USAGE } from "./asked";

const [argv, env] = [process.argv.slice(2), process.env];

/** Names of files are as where it was called. */
const from = env.ELKHORN_FROM ?? process.cwd();
const near = (path: string): string => (isAbsolute(path) ? path : resolve(from, path));
const placed = (a: Asked): Asked => ({
  ...a,
  out: a.out && near(a.out),
  args:
    a.command === "backup" || a.command === "client" ? a.args.map(near) : a.command === "import" ? [a.args[0]!, near(a.args[1]!)] : a.args,
});

async function answer(a: Asked): Promise<Said> {
  if (a.remote) return (await import("./remote")).remoteCommand(a, a.remote);
  if (a.data) process.env.ELKHORN_DATA = near(a.data);
  // Read once the folder is known.
  const [{ folderCommand }, { feedEvents }] = await Promise.all([import("./folder"), import("@/server/feeds")]);
  feedEvents();
  return folderCommand(a);
}

function refused(e: unknown, json: boolean): never {
  const r = e instanceof Refused ? e : new Refused(e instanceof Error ? e.message : String(e));
  if (json) console.log(JSON.stringify({ ok: false, message: r.message, detail: r.detail }));
  else for (const line of [r.message, ...r.detail.map((d) => `  ${d}`)]) console.error(line);
  process.exit(r.status);
}

try {
  const asked = askedFor(argv, env);
  if (!asked) console.log(USAGE);
  else {
    const said = await answer(placed(asked)).catch((e: unknown) => refused(e, asked.json));
    if (asked.json) console.log(JSON.stringify({ ok: true, ...said.json }));
    else for (const line of said.lines) console.log(line);
  }
  process.exit(0);
} catch (e) {
  refused(e, argv.includes("--json"));
}
