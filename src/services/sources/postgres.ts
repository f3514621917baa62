/** A PostgreSQL database: its tables and views, read in one transaction that writes nothing, and rows written in one each. */
import { Client } from "pg";
import Cursor from "pg-cursor";
import { err, ok, type Result } from "@/core/result";
import { sqlName } from "@/core/text/sql-name";
import { guardedAddress } from "../outside/guarded";
import { unreachable } from "./address";
import {
  later,
  never,
  SOURCE_WAITS,
  type SourceAdapter,
  type SourceOnly,
  type SourceSettings,
  type SourceTrouble,
  Troubled,
} from "./contract";
import { KEYLESS, meter, notLetIn, SQL_ABOUT, type SqlTalk, sqlFields, writeRow } from "./sql-rows";

const PIECE = 500;
const CONNECTS = 8_000;

const READING = "BEGIN TRANSACTION ISOLATION LEVEL REPEATABLE READ READ ONLY";

async function connect(s: SourceSettings, begin = READING): Promise<Client> {
  const [host = "", port = 5432] = [s.host, Number(s.port || 5432)];
  // Connected to by the number that was looked at: a name cannot lead elsewhere a moment later.
  const address = await guardedAddress(host, port);
  const client = new Client({
    host: address,
    port,
    database: s.database,
    user: s.user,
    password: s.password,
    ssl: s.tls === "off" ? false : { servername: host, rejectUnauthorized: s.tls !== "unchecked" },
    connectionTimeoutMillis: CONNECTS,
    statement_timeout: SOURCE_WAITS,
    application_name: "Elkhorn",
  });
  client.on("error", () => {}); // told by whatever is asked next
  await client.connect();
  await client.query(begin);
  return client;
}

/** What the server says, by its code (PostgreSQL, appendix A). */
function troubleOf(e: Error, s: SourceSettings): SourceTrouble {
  const host = s.host ?? "";
  if (e instanceof Troubled) return e.trouble;
  const { code } = e as { code?: string };
  if (code === "28P01" || code === "28000") return notLetIn(s);
  if (code === "3D000") return never(`${host} has no such database.`);
  if (code === "42501") return never("This user may not do that. Grant SELECT on it, and INSERT and UPDATE where rows go there.");
  if (code === "42P01") return never("This table is not there any more.");
  if (code === "42703") return never("It has no such column.");
  if (code === "57014") return later(`${host} took too long.`);
  if (/^2[23]/.test(code ?? "") || code === "25006" || code === "55000") return never(`${host} refuses it: ${e.message}.`);
  if (/does not support SSL/i.test(e.message))
    return never(`${host} does not encrypt connections. Say so under “Encryption”, if that is meant.`);
  if (/self.signed|certificate/i.test(e.message))
    return never(`The certificate of ${host} is not one that is trusted (${code ?? "no code"}).`);
  return unreachable(e, host);
}

async function within<T>(s: SourceSettings, work: (c: Client) => Promise<T>, begin = READING): Promise<Result<T, SourceTrouble>> {
  let client: Client | undefined;
  try {
    client = await connect(s, begin);
    const done = await work(client);
    await client.query("COMMIT");
    return ok(done);
  } catch (e) {
    return err(troubleOf(e as Error, s));
  } finally {
    await client?.end().catch(() => {});
  }
}

const OBJECTS = `SELECT table_schema AS schema, table_name AS name FROM information_schema.tables
  WHERE table_schema NOT IN ('pg_catalog', 'information_schema') ORDER BY table_schema, table_name LIMIT 1000`;

export const postgresSource: SourceAdapter = {
  name: "A PostgreSQL database",
  about: SQL_ABOUT,
  fields: sqlFields(5432),
  objects: async (s) => {
    const found = await within(s, async (c) => (await c.query(OBJECTS)).rows as { schema: string; name: string }[]);
    if (!found.ok) return found;
    return ok(
      found.value.map((t) => ({ id: JSON.stringify([t.schema, t.name]), name: t.schema === "public" ? t.name : `${t.schema}.${t.name}` })),
    );
  },
  filters: true,
  read: async (s, object, _since, only = null) => {
    const parts = partsOf(object);
    if (!parts) return err(never("This table is not there any more."));
    let client: Client | undefined;
    try {
      client = await connect(s);
      const columns = await columnsOf(client, parts);
      if (columns.length === 0) {
        await client.end();
        return err(never("This table is not there any more."));
      }
      const key = await keyOf(client, parts);
      return ok({
        fileName: `${parts[1]}.csv`,
        header: columns,
        pieces: pieces(client, parts, columns, only, s),
        key,
        whole: true,
        end: () => ({ mark: null, gone: [] }),
      });
    } catch (e) {
      await client?.end().catch(() => {});
      return err(troubleOf(e as Error, s));
    }
  },
  write: async (s, object, w) => {
    const parts = partsOf(object);
    if (!parts) return err(never("This table is not there any more."));
    const work = async (c: Client) => {
      const [columns, key] = [await columnsOf(c, parts), await keyOf(c, parts)];
      if (!key) throw new Troubled(never(KEYLESS));
      return writeRow(talkOf(c), { table: tableOf(parts), columns, key }, w);
    };
    return within(s, work, "BEGIN");
  },
};

const tableOf = ([schema, name]: [string, string]): string => `${sqlName(schema)}.${sqlName(name)}`;
const talkOf = (c: Client): SqlTalk => ({
  query: async (sql, values) => (await c.query(sql, [...values])).rows as Record<string, string | null>[],
  name: sqlName,
  place: (n) => `$${n}`,
  asText: (column) => `${column}::text`,
  same: (column, place) => `${column} IS NOT DISTINCT FROM ${place}`,
  returning: true,
});

/** The one column of its primary key; null of a view, and where the key has several. */
async function keyOf(c: Client, parts: [string, string]): Promise<string | null> {
  const asked = `SELECT a.attname AS name FROM pg_index i JOIN pg_attribute a ON a.attrelid = i.indrelid AND a.attnum = ANY (i.indkey)
    WHERE i.indrelid = to_regclass($1) AND i.indisprimary`;
  const { rows } = await c.query(asked, [tableOf(parts)]);
  return rows.length === 1 ? (rows[0] as { name: string }).name : null;
}

function partsOf(object: string): [string, string] | null {
  try {
    const [schema, name] = JSON.parse(object) as unknown[];
    return typeof schema === "string" && typeof name === "string" ? [schema, name] : null;
  } catch {
    return null;
  }
}

async function columnsOf(c: Client, [schema, name]: [string, string]): Promise<string[]> {
  const asked =
    "SELECT column_name AS name FROM information_schema.columns WHERE table_schema = $1 AND table_name = $2 ORDER BY ordinal_position";
  return (await c.query(asked, [schema, name])).rows.map((r: { name: string }) => r.name);
}

/** Every value as the server writes it as text: a number keeps its digits, and a moment its zone. */
async function* pieces(
  c: Client,
  parts: [string, string],
  columns: readonly string[],
  only: SourceOnly | null,
  s: SourceSettings,
): AsyncGenerator<string[][]> {
  const select = columns.map((x) => `${sqlName(x)}::text`).join(", ");
  const where = only ? ` WHERE ${sqlName(only.column)}::text = ANY ($1)` : "";
  const given = only ? [[...only.values]] : [];
  const cursor = c.query(new Cursor(`SELECT ${select} FROM ${tableOf(parts)}${where}`, given, { rowMode: "array" }));
  const measure = meter(s.host ?? "");
  try {
    for (;;) {
      const rows = (await cursor.read(PIECE)) as (string | null)[][];
      if (rows.length === 0) return;
      const piece = rows.map((r) => r.map((v) => v ?? ""));
      measure(piece);
      yield piece;
    }
  } catch (e) {
    throw e instanceof Troubled ? e : new Troubled(troubleOf(e as Error, s));
  } finally {
    await cursor.close().catch(() => {});
    await c.end().catch(() => {});
  }
}
