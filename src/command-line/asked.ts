/** What is asked for on the command line, and what an answer is. */
import { parseArgs } from "node:util";

export const COMMANDS = {
  import: { takes: ["TABLE", "FILE"], says: "bring a CSV file into a table (from the folder: XLSX and JSON lines, too)" },
  export: { takes: ["TABLE"], says: "write a table out" },
  check: { takes: [], says: "say what is wrong: with a portal's rules, or with what a key opens" },
  publish: { takes: [], says: "publish a portal's draft" },
  backup: { takes: ["FOLDER"], says: "copy the whole installation into a new folder beside others" },
  client: { takes: ["FOLDER"], says: "make a client for TypeScript of a running portal's API, as a package" },
  link: { takes: ["[TABLE]", "[ID]"], says: "say the address of a portal, a table or a record" },
} as const;
export type Command = keyof typeof COMMANDS;
const isCommand = (text: string | undefined): text is Command => text !== undefined && Object.hasOwn(COMMANDS, text);

/** A command that cannot be carried out: its sentence is all that is shown. */
export class Refused extends Error {
  /** @param detail one line each, such as rows that cannot come in */
  constructor(
    message: string,
    readonly detail: readonly string[] = [],
    readonly status: 1 | 2 = 1,
  ) {
    super(message);
  }
}

export interface Asked {
  readonly command: Command;
  readonly args: readonly string[];
  /** The portal's short name; null where there is only one. */
  readonly portal: string | null;
  /** Of a running installation's portal, with its key; null where the folder itself is worked with. */
  readonly remote: { readonly at: URL; readonly key: string } | null;
  readonly data: string | null;
  readonly json: boolean;
  readonly out: string | null;
  readonly format: "csv" | "json" | "xlsx";
  /** The column by which records are known again. */
  readonly by: string | null;
  readonly note: string;
}

/** What a command says: a line for people, and the same for programs. */
export interface Said {
  readonly lines: readonly string[];
  readonly json: Readonly<Record<string, unknown>>;
}

export const USAGE = [
  "elkhorn COMMAND [--portal NAME] [--data FOLDER | --at ADDRESS] [--json]",
  "",
  ...Object.entries(COMMANDS).map(([name, c]) => `  ${`${name} ${c.takes.join(" ")}`.padEnd(24)}${c.says}`),
  "",
  "  --portal NAME    which portal of the folder, where there are several",
  "  --data FOLDER    the installation's folder: you do all that its owner may (ELKHORN_DATA)",
  "  --at ADDRESS     a portal that is running, with a key in ELKHORN_KEY: you do what the key may",
  "  --by COLUMN      import: records with the same value there are changed, not added",
  "  --format FORMAT  export: csv, json or xlsx",
  "  --out FILE       export: into this file",
  "  --note WORDS     publish: what has changed",
  "  --json           say everything as one JSON object",
  "",
  "Ends with 0, with 1 where it was refused or something is wrong, with 2 where the command is not understood.",
].join("\n");

const OPTIONS = {
  portal: { type: "string" },
  data: { type: "string" },
  at: { type: "string" },
  by: { type: "string" },
  format: { type: "string", default: "csv" },
  out: { type: "string" },
  note: { type: "string", default: "" },
  json: { type: "boolean", default: false },
  help: { type: "boolean", default: false },
} as const;

/** Null where only help is asked for. @throws Refused with status 2 */
export function askedFor(argv: readonly string[], env: Readonly<Record<string, string | undefined>>): Asked | null {
  const { values, positionals } = parsed(argv);
  const [command, ...args] = positionals;
  if (values.help || command === "help" || command === undefined) return null;
  if (!isCommand(command)) throw new Refused(`There is no command “${command}”. elkhorn help lists them.`, [], 2);
  const takes = COMMANDS[command].takes as readonly string[];
  const least = takes.filter((t) => !t.startsWith("[")).length;
  if (args.length < least || args.length > takes.length) throw new Refused(`It goes: elkhorn ${[command, ...takes].join(" ")}`, [], 2);
  if (values.format !== "csv" && values.format !== "json" && values.format !== "xlsx")
    throw new Refused("The format is csv, json or xlsx.", [], 2);
  if (values.at !== undefined && values.data !== undefined) throw new Refused("Choose one of --at and --data.", [], 2);
  return {
    command,
    args,
    portal: values.portal ?? null,
    remote: values.at === undefined ? null : remoteAt(values.at, env.ELKHORN_KEY),
    data: values.data ?? null,
    json: values.json,
    out: values.out ?? null,
    format: values.format,
    by: values.by ?? null,
    note: values.note,
  };
}

function parsed(argv: readonly string[]) {
  try {
    return parseArgs({ args: [...argv], options: OPTIONS, allowPositionals: true });
  } catch (e) {
    throw new Refused((e as Error).message, [], 2);
  }
}

/** The key stands in no argument: those are seen by everybody on the machine. */
function remoteAt(at: string, key: string | undefined): { at: URL; key: string } {
  if (!URL.canParse(at) || !/^https?:$/.test(new URL(at).protocol))
    throw new Refused("The address after --at begins with https://.", [], 2);
  if (!key) throw new Refused("Put the key into ELKHORN_KEY: an argument is seen by everybody on the machine.", [], 2);
  return { at: new URL(at), key };
}
