import { notFound } from "next/navigation";
import { isRelation, pointsToSeveral } from "@/core/schema/fields/natures";
import { FIELD_TYPES, type Field, kindOf, type Table } from "@/core/schema/types";
import { choiceCounts } from "@/data/schema/choices";
import { seenOf } from "@/data/schema/shape";
import { MANY, turning } from "@/data/schema/turn";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { count } from "@/office/words";
import { Link } from "@/ui/link";
import { keepField } from "../../shaping";
import { Choices } from "./choices";
import { FieldForm, type FieldShape } from "./field-form";
import { Fill } from "./fill";
import { OtherType } from "./other-type";
import { describe } from "./shape-page";
import { TurnRound } from "./turn-round";

interface Props {
  p: OfficePortal;
  table: string;
  field: string;
  kept: boolean;
}

const asTyped = (f: Field, v: number | undefined): string => (v === undefined ? "" : (kindOf(f).texts(v, f)[0] ?? ""));

function shapeOf(f: Field, timeZone: string): FieldShape {
  const o = f.options;
  const d = o.default;
  const kind = !d ? "" : d.kind === "date" ? (d.anchor === "now" ? "now" : "today") : d.kind === "viewer" ? "person" : "value";
  const literal = d?.kind === "literal" ? kindOf(f).texts(d.value as never, f, timeZone) : [];
  const words = o.choices ? literal.map((id) => o.choices!.find((c) => c.id === id)?.name ?? id) : literal;
  return {
    name: f.name,
    type: f.type,
    help: o.help ?? "",
    required: o.required ?? false,
    unique: o.unique ?? false,
    offForms: o.offForms ?? false,
    offSearch: o.offSearch ?? false,
    onRemoval: o.onRemoval ?? "clear",
    unit: o.unit ?? "",
    plain: o.plain ?? false,
    least: asTyped(f, o.least),
    most: asTyped(f, o.most),
    longest: o.longest === undefined ? "" : String(o.longest),
    mask: o.mask ?? "",
    maskSays: o.maskSays ?? "",
    prefix: o.prefix ?? "",
    digits: o.digits === undefined ? "" : String(o.digits),
    default: kind,
    defaultValue: words[0] ?? "",
    toPeople: o.target === "t_people",
    fixed: f.system,
  };
}

const pluralOf = (name: string): string => (/s$/i.test(name) ? name : /[^aeiou]y$/i.test(name) ? name.replace(/y$/i, "ies") : `${name}s`);

/** One field's settings, and what a change of them would do to what it holds. */
export function FieldShapePage({ p, table: address, field: id, kept }: Props) {
  const { schema } = p.live.policy;
  const table = schema.tableAt(address);
  const field = table?.fields.find((f) => f.id === id);
  if (!table || !field) notFound();
  const { timeZone } = p.live.definition.portal;
  const at = `${p.at}/data/${table.slug}`;
  const tables = schema.tables.map((t) => ({
    id: t.id,
    name: t.name,
    fields: t.fields.filter((f) => kindOf(f).folds).map((f) => ({ id: f.id, name: f.name })),
  }));
  const turned = turning(p.file, field.id);
  return (
    <div className="grid gap-6 [&>*]:min-w-0">
      <Trail p={p} at={at} table={table} />
      <div>
        <h1>{field.name}</h1>
        <p className="quiet mt-1">
          {kindOf(field).name}
          {describe(schema, field) && `, ${describe(schema, field)}`}
        </p>
      </div>
      {kept && (
        <p role="status" className="alert alert-success alert-soft">
          Kept.
        </p>
      )}
      <FieldForm action={keepField.bind(null, p.slug, field.id, seenOf(field))} shape={shapeOf(field, timeZone)} />
      {field.options.choices && !field.system && (
        <Choices
          key={seenOf(field)}
          portal={p.slug}
          id={field.id}
          seen={seenOf(field)}
          choices={field.options.choices.map((c) => ({ ...c }))}
          counts={choiceCounts(p.file, field)}
        />
      )}
      {turned && turned.links > 0 && (
        <TurnRound
          portal={p.slug}
          at={p.at}
          id={field.id}
          proposed={table.singular}
          other={schema.table(field.options.target!).name}
          links={count(p, turned.links)}
          shared={[...turned.examples]}
          many={turned.links > MANY}
        />
      )}
      {!field.system && (
        <OtherType
          portal={p.slug}
          id={field.id}
          now={field.type}
          proposed={pluralOf(field.name)}
          types={FIELD_TYPES.filter((t) => t !== field.type && t !== "serial" && t !== "readable-address").map((t) => ({
            id: t,
            name: kindOf({ type: t }).name,
          }))}
          tables={tables}
          currency={p.live.definition.portal.currency}
          locale={p.live.definition.portal.locale}
        />
      )}
      {!field.system && !pointsToSeveral(field) && !isRelation(field) && (
        <Fill
          portal={p.slug}
          id={field.id}
          name={field.name}
          fields={table.fields.filter((f) => f.id !== field.id && !pointsToSeveral(f)).map((f) => ({ id: f.id, name: f.name }))}
          locale={p.live.definition.portal.locale}
        />
      )}
    </div>
  );
}

interface TrailProps {
  readonly p: OfficePortal;
  readonly at: string;
  readonly table: Table;
}

/** Where the field belongs. */
function Trail({ p, at, table }: TrailProps) {
  return (
    <nav aria-label="Where you are" className="-mb-4 text-sm">
      <Link className="link-plain" href={`${p.at}/data`}>
        Data
      </Link>{" "}
      /{" "}
      <Link className="link-plain" href={at}>
        {table.name}
      </Link>{" "}
      /{" "}
      <Link className="link-plain" href={`${at}/shape`}>
        Shape
      </Link>
    </nav>
  );
}
