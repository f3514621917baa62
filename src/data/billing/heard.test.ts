/** Events of the provider: each once, several in one transaction, and none lost where the work after it fails. */
import { expect, it } from "vitest";
import { memoryPortal } from "@/testing/world";
import { hear, notDone, noteDone } from "./heard";

it("a hundred that come at once, each three times, stand there once; one of the three is told that it was new", async () => {
  const file = memoryPortal();
  let transactions = 0;
  const real = file.db.transaction.bind(file.db);
  file.db.transaction = ((work: never) => {
    const run = real(work) as unknown as (...a: unknown[]) => unknown;
    return (...a: unknown[]) => {
      transactions++;
      return run(...a);
    };
  }) as never;
  const told = await Promise.all(
    Array.from({ length: 300 }, (_, i) => hear(file, { id: `e${i % 100}`, type: "charge", body: String(i), at: i })),
  );
  expect([told.filter(Boolean).length, transactions]).toEqual([100, 1]);
  expect(await hear(file, { id: "e5", type: "charge", body: "again", at: 1 })).toBe(false);
  // What was not acted upon is found again; what was is not.
  expect(notDone(file, 500)).toHaveLength(100);
  noteDone(file, "e5", 7, null);
  noteDone(file, "e5", 8, "late");
  expect([notDone(file, 500).length, file.db.prepare("SELECT done_at, error FROM sys_provider_events WHERE id = 'e5'").get()]).toEqual([
    99,
    { done_at: 7, error: null },
  ]);
});
