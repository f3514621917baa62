/** A PostgreSQL database: its tables and views, read in one transaction that writes nothing. */
import { Readable } from "node:stream";
import { Client } from "pg";
import Cursor from "pg-cursor";
import { csvLines } from "@/core/exchange/write-csv";
import { err, ok, type Result } from "@/core/result";
import { sqlName } from "@/core/text/sql-name";
import { guardedAddress } from "../outside/guarded";
import { unreachable } from "./address";
import { later, MOST_SOURCE_BYTES, never, SOURCE_WAITS, type SourceAdapter, type SourceSettings, type SourceTrouble } from "./contract";

const PIECE = 500;
const CONNECTS = 8_000;

async function connect(s: SourceSettings): Promise<Client> {
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
  await client.query("BEGIN TRANSACTION ISOLATION LEVEL REPEATABLE READ READ ONLY");
  return client;
}

/** What the server says, by its code (PostgreSQL, appendix A). */
function troubleOf(e: Error, host: string): SourceTrouble {
  const { code } = e as { code?: string };
  if (code === "28P01" || code === "28000") return never(`${host} does not let this user in. Look at the user and password.`);
  if (code === "3D000") return never(`${host} has no such database.`);
  if (code === "42501") return never("This user may not read it. Grant SELECT on it.");
  if (code === "42P01") return never("This table is not there any more.");
  if (code === "57014") return later(`${host} took too long.`);
  if (/does not support SSL/i.test(e.message))
    return never(`${host} does not encrypt connections. Say so under “Encryption”, if that is meant.`);
  if (/self.signed|certificate/i.test(e.message))
    return never(`The certificate of ${host} is not one that is trusted (${code ?? "no code"}).`);
  return unreachable(e, host);
}

async function within<T>(s: SourceSettings, work: (c: Client) => Promise<T>): Promise<Result<T, SourceTrouble>> {
  let client: Client | undefined;
  try {
    client = await connect(s);
    return ok(await work(client));
  } catch (e) {
    return err(troubleOf(e as Error, s.host ?? ""));
  } finally {
    await client?.end().catch(() => {});
  }
}

const OBJECTS = `SELECT table_schema AS schema, table_name AS name FROM information_schema.tables
  WHERE table_schema NOT IN ('pg_catalog', 'information_schema') ORDER BY table_schema, table_name LIMIT 1000`;

export const postgresSource: SourceAdapter = {
  name: "A PostgreSQL database",
  about: "Tables and views, read by a user of the database who may only read.",
  fields: [
    { name: "host", label: "Host", hint: "Such as db.agency.example" },
    { name: "port", label: "Port", hint: "5432 where nothing is said", optional: true },
    { name: "database", label: "Database", hint: "Its name" },
    { name: "user", label: "User", hint: "Best one that may only read" },
    { name: "password", label: "Password", hint: "Of that user", secret: true, optional: true },
    {
      name: "tls",
      label: "Encryption",
      hint: "Empty: encrypted, and the certificate is checked. “unchecked”: any certificate. “off”: none",
      optional: true,
    },
  ],
  objects: async (s) => {
    const found = await within(s, async (c) => (await c.query(OBJECTS)).rows as { schema: string; name: string }[]);
    if (!found.ok) return found;
    return ok(
      found.value.map((t) => ({ id: JSON.stringify([t.schema, t.name]), name: t.schema === "public" ? t.name : `${t.schema}.${t.name}` })),
    );
  },
  read: async (s, object) => {
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
      const rows = pieces(client, parts, columns, s.host ?? "");
      return ok({ fileName: `${parts[1]}.csv`, body: Readable.toWeb(Readable.from(rows)) as ReadableStream<Uint8Array> });
    } catch (e) {
      await client?.end().catch(() => {});
      return err(troubleOf(e as Error, s.host ?? ""));
    }
  },
};

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
async function* pieces(c: Client, [schema, name]: [string, string], columns: readonly string[], host: string): AsyncGenerator<Buffer> {
  const select = columns.map((x) => `${sqlName(x)}::text`).join(", ");
  const cursor = c.query(new Cursor(`SELECT ${select} FROM ${sqlName(schema)}.${sqlName(name)}`, [], { rowMode: "array" }));
  let bytes = 0;
  try {
    yield Buffer.from(csvLines([[...columns]]));
    for (;;) {
      const rows = (await cursor.read(PIECE)) as (string | null)[][];
      if (rows.length === 0) return;
      const piece = Buffer.from(csvLines(rows.map((r) => r.map((v) => v ?? ""))));
      bytes += piece.length;
      if (bytes > MOST_SOURCE_BYTES) throw new Error(`${host} has more than ${MOST_SOURCE_BYTES} bytes in this table.`);
      yield piece;
    }
  } finally {
    await cursor.close().catch(() => {});
    await c.end().catch(() => {});
  }
}
