/** A MariaDB or MySQL database: its tables and views, read in one transaction that writes nothing, and rows written in one each. */
import { connect as connectTo } from "node:net";
import { type Connection, createConnection } from "mysql2/promise";
import { err, ok, type Result } from "@/core/result";
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

const name = (text: string): string => `\`${text.replaceAll("`", "``")}\``;
const asText = (column: string): string => `CAST(${column} AS CHAR CHARACTER SET utf8mb4)`;

async function connect(s: SourceSettings, begin: string): Promise<Connection> {
  const [host = "", port = 3306] = [s.host, Number(s.port || 3306)];
  // Connected to by the number that was looked at, while the certificate is still of the name.
  const address = await guardedAddress(host, port);
  const c = await createConnection({
    host,
    port,
    stream: () => connectTo({ host: address, port }),
    ...(s.database ? { database: s.database } : {}),
    ...(s.user ? { user: s.user } : {}),
    password: s.password ?? "",
    ...(s.tls === "off" ? {} : { ssl: { rejectUnauthorized: s.tls !== "unchecked", verifyIdentity: s.tls !== "unchecked" } }),
    connectTimeout: CONNECTS,
    charset: "utf8mb4",
    // A server may not ask for files of this machine.
    flags: ["-LOCAL_FILES"],
  });
  c.on("error", () => {}); // told by whatever is asked next
  try {
    await c.query("SET time_zone = '+00:00'");
    await c.query(begin);
    return c;
  } catch (e) {
    c.destroy();
    throw e;
  }
}

const READING = "START TRANSACTION WITH CONSISTENT SNAPSHOT, READ ONLY";

/** What the server says, by its code (MariaDB, "Error Codes"). */
function troubleOf(e: Error, s: SourceSettings): SourceTrouble {
  const host = s.host ?? "";
  const { code = "", sqlState = "" } = e as { code?: string; sqlState?: string };
  if (code === "ER_ACCESS_DENIED_ERROR") return notLetIn(s);
  if (code === "ER_BAD_DB_ERROR" || code === "ER_DBACCESS_DENIED_ERROR") return never(`${host} has no such database.`);
  if (/^ER_(TABLE|COLUMN)ACCESS_DENIED/.test(code))
    return never("This user may not do that. Grant SELECT on it, and INSERT and UPDATE where rows go there.");
  if (code === "ER_NO_SUCH_TABLE") return never("This table is not there any more.");
  if (code === "ER_BAD_FIELD_ERROR") return never("It has no such column.");
  if (code === "ER_LOCK_WAIT_TIMEOUT" || code === "ER_LOCK_DEADLOCK") return later(`${host} took too long.`);
  if (code === "HANDSHAKE_NO_SSL_SUPPORT")
    return never(`${host} does not encrypt connections. Say so under “Encryption”, if that is meant.`);
  if (/self.signed|certificate|altnames/i.test(e.message))
    return never(`The certificate of ${host} is not one that is trusted (${code || "no code"}).`);
  if (/^2[23]/.test(sqlState) || code === "ER_TRUNCATED_WRONG_VALUE_FOR_FIELD" || code === "ER_NO_DEFAULT_FOR_FIELD")
    return never(`${host} refuses it: ${e.message}.`);
  return e.name === "Error" && code === "ETIMEDOUT" ? later(`${host} did not answer in time.`) : unreachable(e, host);
}

async function within<T>(s: SourceSettings, work: (c: Connection) => Promise<T>, begin = READING): Promise<Result<T, SourceTrouble>> {
  let c: Connection | undefined;
  try {
    c = await connect(s, begin);
    const done = await work(c);
    await c.query("COMMIT");
    return ok(done);
  } catch (e) {
    return err(troubleOf(e as Error, s));
  } finally {
    c?.destroy();
  }
}

type Texts = Record<string, string | null>;
const textsOf = async (c: Connection, sql: string, values: readonly (string | null)[] = []): Promise<Texts[]> => {
  const [rows] = await c.query({ sql, values: [...values], timeout: SOURCE_WAITS });
  return Array.isArray(rows) ? (rows as Texts[]) : [];
};

const OBJECTS = "SELECT table_name AS name FROM information_schema.tables WHERE table_schema = DATABASE() ORDER BY table_name LIMIT 1000";
const COLUMNS =
  "SELECT column_name AS name, column_key AS part FROM information_schema.columns WHERE table_schema = DATABASE() AND table_name = ? ORDER BY ordinal_position";

interface Shape {
  readonly columns: readonly string[];
  /** The one column of its primary key. */
  readonly key: string | null;
}
async function shapeOf(c: Connection, table: string): Promise<Shape> {
  const found = await textsOf(c, COLUMNS, [table]);
  if (found.length === 0) throw new Troubled(never("This table is not there any more."));
  const primary = found.filter((x) => x.part === "PRI");
  return { columns: found.map((x) => x.name!), key: (primary.length === 1 && primary[0]!.name) || null };
}

async function* pieces(
  c: Connection,
  table: string,
  { columns }: Shape,
  only: SourceOnly | null,
  s: SourceSettings,
): AsyncGenerator<string[][]> {
  const select = columns.map((x) => asText(name(x))).join(", ");
  const where = only ? ` WHERE ${asText(name(only.column))} IN (?)` : "";
  const measure = meter(s.host ?? "");
  try {
    // The stream is of the connection below the one that promises.
    const rows = (c as unknown as { connection: import("mysql2").Connection }).connection
      .query({
        sql: `SELECT ${select} FROM ${name(table)}${where}`,
        values: only ? [[...only.values]] : [],
        rowsAsArray: true,
        timeout: SOURCE_WAITS,
      })
      .stream({ highWaterMark: PIECE });
    let piece: string[][] = [];
    for await (const row of rows as AsyncIterable<(string | null)[]>) {
      piece.push(row.map((v) => v ?? ""));
      if (piece.length < PIECE) continue;
      measure(piece);
      yield piece;
      piece = [];
    }
    measure(piece);
    if (piece.length > 0) yield piece;
  } catch (e) {
    throw e instanceof Troubled ? e : new Troubled(troubleOf(e as Error, s));
  } finally {
    c.destroy();
  }
}

async function talkOf(c: Connection): Promise<SqlTalk> {
  const [server] = await textsOf(c, "SELECT VERSION() AS version");
  return {
    query: (sql, values) => textsOf(c, sql, values),
    name,
    place: () => "?",
    asText,
    same: (column, place) => `${column} <=> ${place}`,
    returning: /MariaDB/i.test(server?.version ?? ""),
  };
}

export const mysqlSource: SourceAdapter = {
  name: "A MariaDB or MySQL database",
  about: SQL_ABOUT,
  fields: sqlFields(3306),
  objects: async (s) => {
    const found = await within(s, (c) => textsOf(c, OBJECTS));
    return found.ok ? ok(found.value.map((t) => ({ id: t.name!, name: t.name! }))) : found;
  },
  filters: true,
  read: async (s, table, _since, only = null) => {
    let c: Connection | undefined;
    try {
      c = await connect(s, READING);
      const shape = await shapeOf(c, table);
      return ok({
        fileName: `${table}.csv`,
        header: shape.columns,
        pieces: pieces(c, table, shape, only, s),
        key: shape.key,
        whole: true,
        end: () => ({ mark: null, gone: [] }),
      });
    } catch (e) {
      c?.destroy();
      return err(troubleOf(e as Error, s));
    }
  },
  write: (s, table, w) => {
    const work = async (c: Connection) => {
      const { columns, key } = await shapeOf(c, table);
      if (!key) throw new Troubled(never(KEYLESS));
      return writeRow(await talkOf(c), { table: name(table), columns, key }, w);
    };
    return within(s, work, "START TRANSACTION");
  },
};
