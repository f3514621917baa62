import { appendFileSync } from "node:fs";

// A vitest reporter that ends with one plain line: "N passed, N failed, N skipped". What failed is kept where ELKHORN_FAILED says, so that it
// can be told once more at the very end, after the runs that follow.
export default class ClosingLine {
  onTestRunEnd(modules, errors) {
    const n = { passed: 0, failed: 0, skipped: 0 };
    const failed = errors.map((e) => `outside of any test: ${e.message}`);
    for (const m of modules) {
      failed.push(...m.errors().map((e) => `${m.relativeModuleId}: ${e.message}`));
      for (const t of m.children.allTests()) {
        const { state, errors: why } = t.result();
        n[state] = (n[state] ?? 0) + 1;
        if (state === "failed")
          failed.push(`${m.relativeModuleId} > ${t.fullName}\n  ${why.map((e) => (e.stack ?? e.message).slice(0, 1500)).join("\n  ")}`);
      }
    }
    if (process.env.ELKHORN_FAILED && failed.length > 0) appendFileSync(process.env.ELKHORN_FAILED, `${failed.join("\n")}\n`);
    if (failed.length > 0) console.log(`\nThe same once more: ELKHORN_SEED=${process.env.ELKHORN_SEED}`);
    console.log(`\n${n.passed} passed, ${Math.max(n.failed, failed.length)} failed, ${n.skipped} skipped`);
  }
}
