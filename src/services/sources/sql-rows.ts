/** What databases that speak SQL have in common: rows as text in pieces, and one row made or changed in a transaction. */
import {
  differing,
  MOST_SOURCE_BYTES,
  never,
  type SourceField,
  type SourceRow,
  type SourceSettings,
  type SourceTrouble,
  type SourceWrite,
  type SourceWritten,
  Troubled,
} from "./contract";

export const KEYLESS = "This table has no key of one column any more, so none of its rows can be told apart.";

export const SQL_ABOUT = "Tables and views. Rows of tables with a primary key can go back, where the user may write.";

/** What a database must be told. `port` is its usual one. */
export const sqlFields = (port: number): readonly SourceField[] => [
  { name: "host", label: "Host", hint: "Such as db.agency.example" },
  { name: "port", label: "Port", hint: `${port} where nothing is said`, optional: true },
  { name: "database", label: "Database", hint: "Its name" },
  { name: "user", label: "User", hint: "Best one that may do no more than is needed" },
  { name: "password", label: "Password", hint: "Of that user", secret: true, optional: true },
  {
    name: "tls",
    label: "Encryption",
    hint: "Empty: encrypted, and the certificate is checked. “unchecked”: any certificate. “off”: none",
    optional: true,
  },
];

/** The sentence where a database turns somebody away. Some say the same where they only take encrypted connections. */
export const notLetIn = (s: SourceSettings): SourceTrouble =>
  never(
    `${s.host ?? ""} does not let this user in. Look at the user and password${s.tls === "off" ? ", and whether it only takes encrypted connections" : ""}.`,
  );

type Texts = Record<string, string | null>;

/** A connection within a transaction, in one database's dialect. */
export interface SqlTalk {
  /** Values are text; each row is given back as text, too. */
  readonly query: (sql: string, values: readonly (string | null)[]) => Promise<Texts[]>;
  readonly name: (name: string) => string;
  /** The place of the nth value, from 1. */
  readonly place: (n: number) => string;
  readonly asText: (column: string) => string;
  /** A condition that holds where the column is the value, of nothing too. */
  readonly same: (column: string, place: string) => string;
  /** Whether an INSERT can give back what was made: MariaDB and PostgreSQL can, MySQL cannot. */
  readonly returning: boolean;
}

export interface SqlTable {
  /** As it stands in a statement. */
  readonly table: string;
  readonly columns: readonly string[];
  readonly key: string;
}

const rowOf = (t: Texts): SourceRow => Object.fromEntries(Object.entries(t).map(([c, v]) => [c, v ?? ""]));
/** A value of nothing is NULL. */
const orNull = (v: string): string | null => (v === "" ? null : v);

/** Its row is locked, looked at, and written only where nobody else has changed the same columns. */
export async function writeRow(db: SqlTalk, { table, columns, key }: SqlTable, w: SourceWrite): Promise<SourceWritten> {
  const all = columns.map((c) => `${db.asText(db.name(c))} AS ${db.name(c)}`).join(", ");
  const names = Object.keys(w.values);
  const lost = names.find((c) => !columns.includes(c));
  if (lost !== undefined) throw new Troubled(never(`“${lost}” is not among its columns any more.`));
  const one = async (k: string, lock: string): Promise<SourceRow | undefined> => {
    const [found] = await db.query(`SELECT ${all} FROM ${table} WHERE ${db.name(key)} = ${db.place(1)}${lock}`, [k]);
    return found && rowOf(found);
  };
  if (w.key === null) {
    const given = names.map((c) => orNull(w.values[c]!));
    const there = w.isOthers && (await madeBefore(db, { table, all, names, given, key, isOthers: w.isOthers }));
    if (there) return { kind: "written", key: there[key] ?? "", row: there };
    const places = names.map((_, i) => db.place(i + 1)).join(", ");
    const insert = `INSERT INTO ${table} (${names.map(db.name).join(", ")}) VALUES (${places})`;
    const made = db.returning ? rowOf((await db.query(`${insert} RETURNING ${all}`, given))[0]!) : await madeBy(db, insert, given, one);
    return { kind: "written", key: made?.[key] ?? w.values[key] ?? "", row: made ?? w.values };
  }
  const now = await one(w.key, " FOR UPDATE");
  if (!now) return { kind: "gone" };
  if (w.seen && differing(w.values, w.seen, now).length > 0) return { kind: "differs", row: now, changedAt: null };
  const sets = names.map((c, i) => `${db.name(c)} = ${db.place(i + 1)}`).join(", ");
  await db.query(`UPDATE ${table} SET ${sets} WHERE ${db.name(key)} = ${db.place(names.length + 1)}`, [
    ...names.map((c) => orNull(w.values[c]!)),
    w.key,
  ]);
  const after = await one(w.values[key] || w.key, "");
  return { kind: "written", key: after?.[key] ?? w.key, row: after ?? { ...now, ...w.values } };
}

interface Sought {
  readonly table: string;
  readonly all: string;
  readonly names: readonly string[];
  readonly given: readonly (string | null)[];
  readonly key: string;
  readonly isOthers: (key: string) => boolean;
}

/** Rows with the same values that are looked at. */
const ALIKE = 200;

/** The row that an earlier try made, if it did. */
async function madeBefore(db: SqlTalk, s: Sought): Promise<SourceRow | undefined> {
  if (s.names.length === 0) return undefined;
  const where = s.names.map((c, i) => db.same(db.name(c), db.place(i + 1))).join(" AND ");
  await db.query("SAVEPOINT made_before", []);
  try {
    const alike = await db.query(`SELECT ${s.all} FROM ${s.table} WHERE ${where} LIMIT ${ALIKE}`, s.given);
    return alike.map(rowOf).find((r) => !s.isOthers(r[s.key] ?? ""));
  } catch {
    // Of a type that cannot be compared, such as JSON: then it is made, perhaps a second time, rather than never.
    await db.query("ROLLBACK TO SAVEPOINT made_before", []);
    return undefined;
  }
}

/** MySQL gives the number that it counted on; a table that counts none is given its key. */
async function madeBy(
  db: SqlTalk,
  insert: string,
  given: readonly (string | null)[],
  one: (key: string, lock: string) => Promise<SourceRow | undefined>,
): Promise<SourceRow | undefined> {
  await db.query(insert, given);
  const [last] = await db.query("SELECT CAST(LAST_INSERT_ID() AS CHAR) AS id", []);
  return last?.id && last.id !== "0" ? one(last.id, "") : undefined;
}

/** Throws once more has come than is taken in at once. */
export function meter(host: string): (rows: readonly (readonly string[])[]) => void {
  let bytes = 0;
  return (rows) => {
    for (const row of rows) for (const cell of row) bytes += cell.length + 1;
    if (bytes > MOST_SOURCE_BYTES)
      throw new Troubled(
        never(
          `${host} has more than ${MOST_SOURCE_BYTES / 1024 / 1024} MB in this table. Bring in a view of it with fewer rows or columns.`,
        ),
      );
  };
}
