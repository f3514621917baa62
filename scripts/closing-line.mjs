// A vitest reporter that ends with one plain line: "N passed, N failed, N skipped".
export default class ClosingLine {
  onTestRunEnd(modules) {
    const n = { passed: 0, failed: 0, skipped: 0 };
    let broken = 0;
    for (const m of modules) {
      if (m.errors().length > 0) broken++;
      for (const t of m.children.allTests()) n[t.result().state] = (n[t.result().state] ?? 0) + 1;
    }
    console.log(`\n${n.passed} passed, ${n.failed + broken} failed, ${n.skipped} skipped`);
  }
}
