/** How long a page of records takes while this process does something else, beside how long it takes alone. */
import { createServer } from "node:http";
import { Worker } from "node:worker_threads";
import { median } from "./measure";

/** Asks again and again, from a thread of its own, as a browser elsewhere would. Milliseconds of each, since it was last asked. */
const CLIENT = `
const { parentPort, workerData } = require("node:worker_threads");
let times = [];
parentPort.on("message", () => { parentPort.postMessage(times); times = []; });
(async () => {
  for (;;) {
    const from = performance.now();
    await (await fetch(workerData)).text();
    times.push(performance.now() - from);
    await new Promise((done) => setTimeout(done, 5));
  }
})();`;

const p95 = (times: readonly number[]): number => [...times].sort((a, b) => a - b)[Math.floor(times.length * 0.95)]!;

/**
 * The 95th of a hundred pages beside `work`, as a ratio to the same alone, before it and after it. `page` answers with the text of one.
 */
export async function pagesBeside(page: () => string, work: () => Promise<void>): Promise<number> {
  const server = createServer((_, response) => void response.end(page()));
  await new Promise<void>((done) => server.listen(0, "127.0.0.1", done));
  const client = new Worker(CLIENT, { eval: true, workerData: `http://127.0.0.1:${(server.address() as { port: number }).port}/` });
  const times = (): Promise<number[]> =>
    new Promise((done) => {
      client.once("message", done);
      client.postMessage("");
    });
  const alone = async (): Promise<number> => {
    await times();
    await new Promise((done) => setTimeout(done, 3_000));
    return p95(await times());
  };
  try {
    await alone();
    const before = await alone();
    await times();
    await work();
    const beside = p95(await times());
    return beside / median([before, await alone()]);
  } finally {
    await client.terminate();
    server.closeAllConnections();
    server.close();
  }
}
