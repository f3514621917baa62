import { notFound } from "next/navigation";
import { isAutomatic } from "@/core/schema/fields/natures";
import { FIELD_TYPES, type Field, kindOf, type Schema, type Table } from "@/core/schema/types";
import { formatMoment } from "@/core/text/format";
import { fieldsAway, leavingTable } from "@/data/schema/put-away";
import { seenOf } from "@/data/schema/shape";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { count } from "@/office/words";
import { Link } from "@/ui/link";
import { keepTable, makeField } from "../../shaping";
import { AddField } from "./add-field";
import { FieldActs } from "./field-acts";
import { PutTableAway } from "./put-table-away";
import { TableForm } from "./table-form";

interface Props {
  p: OfficePortal;
  table: string;
  kept: boolean;
}

export const describe = (schema: Schema, f: Field): string =>
  [
    f.options.kept ? "kept by Elkhorn" : null,
    f.options.target ? `to ${schema.findTable(f.options.target)?.name ?? "a table"}` : null,
    f.options.currency ?? null,
    f.options.choices ? (f.options.choices.length === 1 ? "one choice" : `${f.options.choices.length} choices`) : null,
    f.options.required ? "required" : null,
    f.options.unique ? "unlike every other" : null,
    f.options.offForms ? "not in forms" : null,
    f.options.offSearch ? "not searched" : null,
  ]
    .filter(Boolean)
    .join(", ");

/** A table's fields: added, named, ordered, put away. */
export function ShapePage({ p, table: address, kept }: Props) {
  const { schema } = p.live.policy;
  const table = schema.tableAt(address);
  if (!table) notFound();
  const away = fieldsAway(p.file, p.owner, table.id);
  const { locale, timeZone, currency } = p.live.definition.portal;
  const at = `${p.at}/data/${table.slug}`;
  return (
    <div className="grid gap-6 [&>*]:min-w-0">
      <nav aria-label="Where you are" className="-mb-4 text-sm">
        <Link className="link-plain" href={`${p.at}/data`}>
          Data
        </Link>{" "}
        /{" "}
        <Link className="link-plain" href={at}>
          {table.name}
        </Link>
      </nav>
      <div>
        <h1>Shape of {table.name}</h1>
        <p className="quiet mt-1">Tables and fields change at once. Who may see them changes with the draft.</p>
      </div>
      {kept && (
        <p role="status" className="alert alert-success alert-soft">
          Kept.
        </p>
      )}
      <FieldList table={table} at={at} schema={schema} p={p} currency={currency} />
      {away.length > 0 && (
        <section className="grid gap-2" aria-label="Put away">
          <h2>Put away</h2>
          <ul className="grid gap-2">
            {away.map((f) => (
              <li key={f.id} className="flex flex-wrap items-center gap-3">
                <span>
                  {f.name}{" "}
                  <span className="quiet">{`${kindOf(f).name.toLowerCase()}, since ${formatMoment(new Date(f.away).toISOString(), locale, timeZone)}`}</span>
                </span>
                <FieldActs portal={p.slug} id={f.id} name={f.name} away />
              </li>
            ))}
          </ul>
        </section>
      )}
      <section className="grid max-w-3xl gap-3" aria-label="The table itself">
        <h2>The table itself</h2>
        <TableForm
          action={keepTable.bind(null, p.slug, table.id, seenOf(table))}
          table={{ name: table.name, singular: table.singular, about: table.about ?? "", slug: table.slug, label: table.labelFieldId }}
          labels={table.fields.filter((f) => kindOf(f).folds).map((f) => ({ id: f.id, name: f.name }))}
        />
        {table.kind === "ordinary" && (
          <p>
            <Link className="btn btn-sm" href={`${at}/make`}>
              Make them people or companies
            </Link>
          </p>
        )}
        {table.kind === "ordinary" && <Leaving p={p} id={table.id} />}
      </section>
    </div>
  );
}

function Leaving({ p, id }: { p: OfficePortal; id: string }) {
  const table = p.live.policy.schema.table(id);
  const leaving = leavingTable(p.file, p.owner, table);
  return (
    <PutTableAway
      portal={p.slug}
      at={p.at}
      id={id}
      name={table.name}
      breaks={[...leaving.breaks]}
      follows={[`${count(p, leaving.records)} ${leaving.records === 1 ? "record" : "records"}`, ...leaving.follows]}
    />
  );
}

interface FieldListProps {
  readonly table: Table;
  readonly at: string;
  readonly schema: Schema;
  readonly p: OfficePortal;
  readonly currency: string;
}

/** Fields of the table. */
function FieldList({ table, at, schema, p, currency }: FieldListProps) {
  return (
    <section className="sheet overflow-hidden" aria-label="Fields">
      <div className="overflow-x-auto">
        <table className="grid-table roomy">
          <thead>
            <tr>
              <th scope="col">Field</th>
              <th scope="col">Holds</th>
              <th scope="col">More</th>
              <th scope="col" className="acts w-28">
                <span className="sr-only">Order and putting away</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {table.fields.map((f, i) => (
              <tr key={f.id}>
                <td>
                  <Link className="link-plain font-medium" href={`${at}/shape/${f.id}`}>
                    {f.name}
                  </Link>
                  {f.id === table.labelFieldId && <span className="tag ml-2">names the record</span>}
                </td>
                <td>{kindOf(f).name}</td>
                <td className="quiet">{describe(schema, f)}</td>
                <td className="acts">
                  <FieldActs
                    portal={p.slug}
                    id={f.id}
                    name={f.name}
                    first={i === 0}
                    last={i === table.fields.length - 1}
                    fixed={f.system && !f.options.kept && !isAutomatic(f)}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <div className="border-t border-base-300 p-4">
        <AddField
          action={makeField.bind(null, p.slug, table.id)}
          types={FIELD_TYPES.map((t) => ({ id: t, name: kindOf({ type: t }).name }))}
          tables={schema.tables.map((t) => ({ id: t.id, name: t.name }))}
          fields={table.fields.filter((f) => kindOf(f).folds && !f.system).map((f) => ({ id: f.id, name: f.name }))}
          currency={currency}
        />
      </div>
    </section>
  );
}
