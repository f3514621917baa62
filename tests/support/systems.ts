/** The same three pieces of equipment in each kind of other system, all of them on this machine. */
import { createServer } from "node:http";
import type { SourceKind } from "@/services/sources";
import type { SourceSettings } from "@/services/sources/contract";
import { startLedgerRoom } from "../../src/ledger-room/main";
import { addKey, putItem } from "../../src/ledger-room/store";
import { startMaria } from "./mariadb";
import { startPostgres } from "./postgres";
import { startRadicale } from "./radicale";

/** As text with every digit: name, date, number. */
const EQUIPMENT = [
  ["Router table", "2024-03-01", "1250.5000"],
  ["Pantograph", "2019-11-30", "880.0000"],
  ["Kiln", "", "12345678901234.5678"],
] as const;
const TABLE = "CREATE TABLE equipment (tag varchar(20) PRIMARY KEY, name varchar(80) NOT NULL, bought date, worth numeric(18, 4))";
const ROWS = EQUIPMENT.map(([name, bought, worth], i) => `('EQ-${i + 1}', '${name}', ${bought ? `'${bought}'` : "NULL"}, ${worth})`).join(
  ", ",
);

export async function databaseWithEquipment() {
  const db = await startPostgres();
  await db.query(`${TABLE}; INSERT INTO equipment VALUES ${ROWS}`);
  return db;
}
async function otherDatabase() {
  const db = await startMaria();
  await db.query(TABLE);
  await db.query(`INSERT INTO equipment VALUES ${ROWS}`);
  return db;
}

/** With its key. */
export async function roomWithDeals() {
  const room = await startLedgerRoom(0, ":memory:");
  for (const [title, closes, worth] of EQUIPMENT) putItem(room.db, "deals", null, { title, closes, worth, stage: "Quoted" }, 0);
  return { ...room, key: addKey(room.db, "Elkhorn") };
}

async function addressBook() {
  const dav = await startRadicale();
  for (const [i, [name, note, phone]] of EQUIPMENT.entries()) {
    const card = `BEGIN:VCARD\r\nVERSION:3.0\r\nUID:EQ-${i + 1}\r\nFN:${name}\r\nN:${name};;;;\r\n${note && `NOTE:${note}\r\n`}TEL;TYPE=WORK:${phone}\r\nX-SHELF:${i + 1}\r\nEND:VCARD\r\n`;
    await dav.put(`clients/EQ-${i + 1}.vcf`, "text/vcard", card);
  }
  return dav;
}

interface WebPage {
  readonly status?: number;
  readonly headers?: Readonly<Record<string, string>>;
  readonly body: string | (() => AsyncIterable<string>);
}

/** What stands at an address, by its path. */
async function webWithTable() {
  const csv = `tag,name,bought,worth\n${EQUIPMENT.map((e, i) => `EQ-${i + 1},${e.join(",")}\n`).join("")}`;
  const pages = new Map<string, WebPage>([["/equipment.csv", { body: csv }]]);
  const server = createServer(async (request, response) => {
    const page = pages.get(request.url ?? "/");
    response.writeHead(page?.status ?? (page ? 200 : 404), page?.headers ?? {});
    if (typeof page?.body === "function") for await (const part of page.body()) response.write(part);
    response.end(typeof page?.body === "string" ? page.body : undefined);
  });
  await new Promise<void>((done) => server.listen(0, "127.0.0.1", done));
  const stop = (): void => {
    server.closeAllConnections();
    server.close();
  };
  return { pages, port: (server.address() as { port: number }).port, stop };
}

export async function startSystems() {
  const [db, my, dav, room, web] = await Promise.all([
    databaseWithEquipment(),
    otherDatabase(),
    addressBook(),
    roomWithDeals(),
    webWithTable(),
  ]);
  const settings: Record<SourceKind, SourceSettings> = {
    address: { address: `http://localhost:${web.port}/equipment.csv` },
    postgres: { host: "localhost", port: String(db.port), database: "records", user: "elkhorn", password: "", tls: "off" },
    mysql: { host: "localhost", port: String(my.port), database: "records", user: "elkhorn", password: "reads-only", tls: "off" },
    dav: { address: `http://localhost:${dav.port}`, user: "elkhorn", password: "reads-only" },
    ledger: { address: `http://localhost:${room.port}`, key: room.key },
  };
  const objects: Record<SourceKind, string> = {
    address: "table",
    postgres: '["public","equipment"]',
    mysql: "equipment",
    dav: `contacts http://localhost:${dav.port}/elkhorn/clients/`,
    ledger: "deals",
  };
  const stop = async (): Promise<void> => {
    web.stop();
    await Promise.all([db.stop(), my.stop(), dav.stop(), room.close()]);
  };
  return { db, my, dav, room, web, settings, objects, stop };
}
export type Systems = Awaited<ReturnType<typeof startSystems>>;
