/** Other types of many values: every type into every other, and with no room left for it. */
import { describe, expect, it } from "vitest";
import { type FieldType, kindOf } from "@/core/schema/types";
import { testPortal } from "@/testing/portal";
import { FULL } from "../file/full";
import { addField, addTable } from "../tables/change";
import { schemaOf } from "../tables/read";
import { retype, tryRetype } from "./retype";
import type { RetypeAsk } from "./retype-convert";

const ROWS = 100_000;
const ask = (field: string, type: FieldType, more: Partial<RetypeAsk> = {}): RetypeAsk => ({
  field,
  type,
  options: {},
  reading: {},
  by: null,
  add: false,
  rest: "refuse",
  ...more,
});

/** What the n-th record holds, as it is stored. A tenth hold nothing. */
const HELD: Partial<Record<FieldType, (n: number) => string | number>> = {
  text: (n) => (n % 3 ? `Word ${n}` : String(n)),
  "long-text": (n) => `Line ${n}\n${n}`,
  number: (n) => n * 100 + (n % 100),
  money: (n) => n,
  percent: (n) => n % 10_000,
  date: (n) => new Date(Date.UTC(1990, 0, 1 + (n % 20_000))).toISOString().slice(0, 10),
  "date-time": (n) => new Date(Date.UTC(2026, 0, 1, 0, n % 500_000)).toISOString(),
  email: (n) => `p${n}@x.example`,
  telephone: (n) => `020 7946 ${String(n % 10_000).padStart(4, "0")}`,
  "web-address": (n) => `https://x.example/${n}`,
  "yes-no": (n) => n % 2,
  choice: (n) => `c${n % 3}`,
  choices: (n) => JSON.stringify([`c${n % 3}`, `c${(n + 1) % 3}`]),
};
const CHOICES = ["Oak", "Ash", "Elm"].map((name, i) => ({ id: `c${i}`, name }));

// The few of `npm test` find what is wrong with a pair; all of them, that none takes for ever.
const n = process.env.ELKHORN_LONG === "1" ? ROWS : 300;

describe(`tried over ${n.toLocaleString("en")} values`, () => {
  it.each(Object.keys(HELD) as FieldType[])("%s into every other", { timeout: 600_000 }, (from) => {
    const p = testPortal({ grants: [] });
    const made = addTable(p.file, {
      slug: "many",
      name: "Many",
      singular: "One",
      fields: [
        { slug: "name", name: "Name", type: "text" },
        { slug: "v", name: "V", type: from, options: { decimals: 2, ...(from.startsWith("choice") ? { choices: CHOICES } : {}) } as never },
      ],
    });
    const field = schemaOf(p.file).table(made).fields[1]!;
    // Their ids are of this test's choosing, so that what is stored can be written down above.
    if (from.startsWith("choice")) {
      p.file.db
        .prepare("UPDATE sys_fields SET options = json_set(options, '$.choices', json(?)) WHERE id = ?")
        .run(JSON.stringify(CHOICES), field.id);
      p.file.db.prepare("UPDATE sys_meta SET value = value + 1 WHERE key = 'schema_version'").run();
      p.file.meta.look();
    }
    const put = p.file.db.prepare(`INSERT INTO "${made}" (id, "${field.id}") VALUES (?, ?)`);
    p.file.db.transaction(() => {
      for (let i = 0; i < n; i++) put.run(`r${i}`, i % 10 === 9 ? null : HELD[from]!(i));
    })();
    const empty = Math.floor(n / 10);
    for (const to of [...Object.keys(HELD), "relation", "relations"] as FieldType[]) {
      const more = { options: { ...(to.startsWith("relation") ? { target: "t_companies" } : {}), decimals: 2 } };
      const tried = tryRetype(p.file, p.owner, ask(field.id, to, more));
      if (!tried.ok) {
        // Too many different words to be choices is all that refuses a trial.
        expect([from, to, (tried.error as { message: string }).message]).toEqual([
          from,
          to,
          expect.stringMatching(/different values|too long for a choice/),
        ]);
        continue;
      }
      const { converts, fails } = tried.value;
      expect([from, to, tried.value.empty, converts + fails]).toEqual([from, to, empty, n - empty]);
      // As the type itself reads them one by one.
      if (to === from) expect([from, fails]).toEqual([from, 0]);
      if (kindOf({ type: to }).folds && !["email", "telephone", "web-address"].includes(to))
        expect([from, to, fails]).toEqual([from, to, 0]);
    }
  });
});

it("with the disk full another type is refused with a sentence, nothing is half done, and with room it goes through", () => {
  const p = testPortal({ grants: [] });
  const made = addTable(p.file, { slug: "many", name: "Many", singular: "One", fields: [{ slug: "name", name: "Name", type: "text" }] });
  const v = addField(p.file, made, { slug: "v", name: "V", type: "number" });
  p.file.db.exec(
    `WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 20000) INSERT INTO "${made}" (id, "${v}") SELECT 'r' || i, i FROM n`,
  );
  const held = (): unknown => p.file.db.prepare(`SELECT count(*), sum("${v}") FROM "${made}"`).raw().get();
  const before = held();
  // SQLite's own limit on the file raises the very error of a full disk (SQLITE_FULL).
  p.file.db.pragma(`max_page_count = ${(p.file.db.pragma("page_count", { simple: true }) as number) + 20}`);
  expect(retype(p.file, p.owner, ask(v, "text"))).toEqual({ ok: false, error: { code: "refused", message: FULL } });
  expect([schemaOf(p.file).field(v).type, held()]).toEqual(["number", before]);
  expect(p.file.db.pragma("integrity_check", { simple: true })).toBe("ok");
  p.file.db.pragma("max_page_count = 1073741823");
  expect(retype(p.file, p.owner, ask(v, "text"))).toMatchObject({ ok: true, value: { converts: 20_000 } });
});
