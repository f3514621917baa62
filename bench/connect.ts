/** Other programs: many writes at once beside the same by hand, and how fast webhooks are told. */
import { createServer } from "node:http";
import { newId } from "@/data/file/ids";
import { transact } from "@/data/file/transact";
import { personViewer } from "@/identity/viewers/viewer";
import { must, testPortal } from "@/testing/portal";
import { addHook } from "@/webhooks/hooks";
import { tellDue } from "@/webhooks/tell";
import { against, print, round } from "./measure";

const MANY = 1_000;

export async function benchConnect(): Promise<void> {
  const p = testPortal({
    grants: [
      { roles: ["lead"], table: "signs", actions: ["see", "add"], changes: ["code", "project"] },
      { roles: ["lead"], table: "projects" },
    ],
  });
  const dana = p.person("Dana", "One", "lead");
  const signs = p.table("signs");
  const [code, project] = [p.field("signs", "code"), p.field("signs", "project")];
  const own = p.project("One");
  const company = p.company("One");
  let n = 0;
  const bulk = (): void => {
    const desk = p.desk(personViewer(p.file, dana.viewer.person!.id, null, p.owner.now)!);
    transact(p.file, () => {
      for (let i = 0; i < MANY; i++) must(desk.add(signs, { [code]: `N${n++}`, [project]: own }));
    });
  };
  const { db } = p.file;
  const insert = db.prepare(
    `INSERT INTO "${signs.id}" (id, company_id, created_at, created_by, changed_at, changed_by, "${code}", "${code}_k", "${project}") VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)`,
  );
  const event = db.prepare(
    "INSERT INTO sys_events (at, actor_kind, actor_id, via, act, table_id, record_id, company_id) VALUES (?, 'person', ?, 'api', 'record-added', ?, ?, ?)",
  );
  const values = db.prepare(`INSERT INTO sys_event_values (event_id, "after") VALUES (?, ?)`);
  const who = dana.viewer.person!.id;
  const byHand = db.transaction(() => {
    for (let i = 0; i < MANY; i++) {
      const [id, name, at] = [newId(), `N${n++}`, new Date(p.owner.now).toISOString()];
      insert.run(id, company, at, who, at, who, name, name.toLowerCase(), own);
      const { lastInsertRowid } = event.run(p.owner.now, who, signs.id, id, company);
      values.run(lastInsertRowid, JSON.stringify({ [code]: name, [project]: own }));
    }
  });
  const written = against(bulk, byHand, { rounds: 15, times: 1 });
  print({ name: `bulk write of ${MANY} beside one transaction by hand`, ratio: round(written.ratio), unit: "x", goal: "<= 1.43" });

  await telling();
}

async function telling(): Promise<void> {
  const p = testPortal({ grants: [{ roles: ["lead"], table: "signs", fields: ["code", "project"] }] });
  const receiver = createServer((request, response) => {
    request.resume();
    request.on("end", () => response.end("taken"));
  });
  await new Promise<void>((done) => receiver.listen(0, "127.0.0.1", done));
  const url = `http://127.0.0.1:${(receiver.address() as { port: number }).port}/`;
  must(
    addHook(p.file, p.owner, {
      name: "Bench",
      url,
      kinds: ["record-added"],
      table: p.table("signs").id,
      filter: null,
      role: "lead",
      company: p.company("One"),
    }),
  );
  const project = p.project("One");
  for (let i = 0; i < MANY; i++) p.add("signs", { code: `N${i}`, project });
  const post = (to: string, body: string, headers: Record<string, string>): Promise<Response> =>
    fetch(to, { method: "POST", body, headers });
  const from = process.hrtime.bigint();
  const busy = process.cpuUsage();
  let told = 0;
  while (told < MANY) told += await tellDue(p.file, { post, tellStaff: () => {}, now: Date.now });
  const seconds = Number(process.hrtime.bigint() - from) / 1e9;
  const { user, system } = process.cpuUsage(busy);
  print({ name: "webhooks told a minute by one process", value: Math.round((MANY / seconds) * 60), unit: "a minute", goal: ">= 1,000" });
  print({ name: "processor's time for 1,000 webhooks", value: round((user + system) / 1e6), unit: "s", goal: "" });
  receiver.closeAllConnections();
  receiver.close();
}
