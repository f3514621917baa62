import type { Owner } from "@/core/access/who/viewer";
import { type Field, fieldBySlug, type Value } from "@/core/schema/types";
import { sqlName } from "@/core/text/sql-name";
import { published } from "@/data/definition/published";
import { Desk } from "@/data/records/desk";
import { decodeValue } from "@/data/tables/physical";
import { schemaOf } from "@/data/tables/read";
import { TestPortal } from "@/testing/portal";

export class Shaped extends TestPortal {
  constructor() {
    super(
      [
        { roles: ["lead"], table: "signs", actions: ["see", "change"], changes: ["size"], filter: null },
        { roles: ["lead"], table: "sites" },
      ],
      () => [],
    );
  }
  now = (table: string) => schemaOf(this.file).tableBySlug(table)!;
  f = (table: string, slug: string): Field => fieldBySlug(this.now(table), slug)!;
  get desk_(): Desk<Owner> {
    return new Desk(this.file, published(this.file).policy, this.owner);
  }
  held = (table: string, slug: string): Value[] => {
    const f = this.f(table, slug);
    return (
      this.file.db
        .prepare(`SELECT ${sqlName(f.id)} FROM ${sqlName(f.tableId)} ORDER BY rowid`)
        .pluck()
        .all() as unknown[]
    ).map((v) => decodeValue(f, v));
  };
}
export const message = (r: { ok: boolean; error?: unknown }): string =>
  r.ok ? "done" : String((r.error as { message?: string; code: string }).message ?? (r.error as { code: string }).code);
