/** Buttons beside records: acts that a grant opens, on those records on which it does. */
import type { Act } from "@/core/access/act";
import { doingOf } from "@/core/access/rules";
import type { SeenRecord } from "@/core/schema/seen";
import type { Table } from "@/core/schema/types";
import type { PortalRequest } from "@/identity/requests/request";
import { sayOf } from "../../queries";
import { actingAs } from "../../records/forms";
import { ActButton } from "../../ui/act-button";
import type { At } from "../at";

export interface Beside {
  readonly act: Act;
  readonly on: ReadonlySet<string>;
}

/** Those of the acts that may be done with any of these records, each with the records that it may be done with. */
export function besideNeeded(
  r: PortalRequest,
  table: Table,
  { acts }: { readonly acts: readonly string[] },
  records: readonly SeenRecord[],
): Beside[] {
  if (acts.length === 0 || records.length === 0) return [];
  const ids = records.map((x) => x.id);
  return r.desk
    .acts(table)
    .filter((a) => acts.includes(a.id) && a.on === "change")
    .toSorted((a, b) => acts.indexOf(a.id) - acts.indexOf(b.id))
    .map((act) => ({ act, on: r.desk.whereMay(table, doingOf(act), ids) }))
    .filter((b) => b.on.size > 0);
}

interface BesideProps {
  at: At;
  acts: readonly Beside[];
  record: SeenRecord;
  table: Table;
  large?: boolean;
  /** In a column of rows that all have them. */
  quietly?: boolean;
}

export function BesideRecord({ at: { r }, acts, record, table, large = false, quietly = false }: BesideProps) {
  const say = sayOf(r);
  const here = acts.filter((b) => b.on.has(record.id));
  return (
    <span className="inline-flex flex-wrap gap-2">
      {here.map(({ act }, i) => (
        <ActButton
          key={act.id}
          act={act.id}
          name={act.name}
          about={say("act.on", { act: act.name, record: r.desk.label(table, record) })}
          record={record.id}
          acting={actingAs(r)}
          closed={r.seeAs !== null}
          first={i === 0 && !quietly}
          large={large}
        />
      ))}
    </span>
  );
}
