/** A list of people to be invited, as somebody has it: columns in any order, with a header row or without. Pure; read where it was chosen. */
import { isEmail } from "../text/email";
import { fold } from "../text/fold";
import { CsvReader, guessDelimiter, isBlank } from "./csv";
import { headingKey, headsFirstName, headsLastName } from "./headings";

export const INVITEE_PARTS = ["name", "email", "company", "roles", "password"] as const;
export type InviteePart = (typeof INVITEE_PARTS)[number];

/** Common practice, no source: what lists of people are headed by. */
const HEADINGS: Readonly<Record<InviteePart, readonly string[]>> = {
  name: ["name", "full name", "person", "contact"],
  email: ["e mail", "email", "mail", "e mail address", "email address"],
  company: ["company", "organisation", "organization", "client", "customer", "firm"],
  roles: ["role", "roles"],
  password: ["password", "temporary password"],
};

export interface InviteeFile {
  readonly columns: readonly string[];
  readonly header: boolean;
  /** By part, the columns that it is put together from; none where the file has none. */
  readonly guess: Readonly<Record<InviteePart, readonly number[]>>;
  readonly rows: readonly { readonly line: number; readonly cells: readonly string[] }[];
  readonly blank: number;
}

export const MOST_INVITEES = 10_000;

/** A sentence where it cannot be read. */
export function readInvitees(text: string): InviteeFile | string {
  const reader = new CsvReader(guessDelimiter(text.slice(0, 20_000)));
  const rows: { line: number; cells: string[] }[] = [];
  let blank = 0;
  for (const r of [...reader.push(text.replace(/^\ufeff/, "")), ...reader.end()]) {
    if (isBlank(r)) blank++;
    else rows.push({ line: r.line, cells: [...r.cells] });
    if (rows.length > MOST_INVITEES + 1) return `A list holds ${MOST_INVITEES.toLocaleString("en-GB")} people at the most. Divide it.`;
  }
  const open = reader.errors.find((e) => e.code === "open-quote");
  if (open) return `A quote that begins on line ${open.line} is never closed.`;
  const first = rows[0];
  if (!first) return "The list is empty.";
  const header = !first.cells.some((c) => isEmail(c.trim()));
  const width = Math.max(...rows.map((r) => r.cells.length));
  const columns = Array.from({ length: width }, (_, i) => (header && first.cells[i]?.trim()) || `Column ${i + 1}`);
  const body = header ? rows.slice(1) : rows;
  if (body.length === 0) return "The list has a header and nobody below it.";
  return { columns, header, guess: header ? byHeading(columns) : byLooks(body.map((r) => r.cells)), rows: body, blank };
}

function byHeading(columns: readonly string[]): InviteeFile["guess"] {
  const keys = columns.map(headingKey);
  const at = (names: readonly string[]): number[] => {
    const i = keys.findIndex((k) => names.includes(k));
    return i < 0 ? [] : [i];
  };
  const apart = [columns.findIndex(headsFirstName), columns.findIndex(headsLastName)].filter((i) => i >= 0);
  return {
    name: apart.length > 0 ? apart : at(HEADINGS.name),
    email: at(HEADINGS.email),
    company: at(HEADINGS.company),
    roles: at(HEADINGS.roles),
    password: at(HEADINGS.password),
  };
}

/** Without a header: the address is what looks like one, the name what stands first beside it. */
function byLooks(rows: readonly (readonly string[])[]): InviteeFile["guess"] {
  const sample = rows.slice(0, 50);
  const width = Math.max(...sample.map((r) => r.length));
  const share = Array.from({ length: width }, (_, i) => sample.filter((r) => isEmail((r[i] ?? "").trim())).length);
  const email = share.indexOf(Math.max(...share));
  const name = share.findIndex((_, i) => i !== email);
  return { name: name < 0 ? [] : [name], email: [email], company: [], roles: [], password: [] };
}

export interface Invitee {
  readonly line: number;
  readonly name: string;
  readonly email: string;
  readonly company: string;
  readonly roles: readonly string[];
  /** Not trimmed, as spaces count in a password. */
  readonly password: string;
  /** The line that has the same address already. */
  readonly again: number | null;
}

/** A row of the file for each person, from the columns that hold their parts. */
export function inviteesOf(file: InviteeFile, parts: Readonly<Record<InviteePart, readonly number[]>>): Invitee[] {
  const seen = new Map<string, number>();
  return file.rows.map(({ line, cells }) => {
    const of = (p: InviteePart): string =>
      parts[p]
        .map((i) => (p === "password" ? (cells[i] ?? "") : (cells[i] ?? "").trim()))
        .filter(Boolean)
        .join(" ");
    const key = fold(of("email"));
    const again = key ? (seen.get(key) ?? null) : null;
    if (key && again === null) seen.set(key, line);
    return {
      line,
      again,
      name: of("name") || (of("email").split("@")[0] ?? ""),
      email: of("email"),
      company: of("company"),
      roles: of("roles")
        .split(/[;,/]/)
        .map((r) => r.trim())
        .filter(Boolean),
      password: of("password"),
    };
  });
}
