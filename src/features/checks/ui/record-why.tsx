/** The answer for one person: yes or no, the steps that led to it, and field by field. */

import type { Table } from "@/core/schema/types";
import { AutoSelect } from "@/ui/forms/auto-submit";
import { Link } from "@/ui/link";
import { asOf, type RecordView, type To } from "../record";
import { PersonChoice } from "./person-choice";

const DOES: Record<To, readonly [yes: string, no: string]> = {
  see: ["sees", "does not see"],
  change: ["may change", "may not change"],
  remove: ["may remove", "may not remove"],
  export: ["may download", "may not download"],
};
const NAME: Record<To, string> = { see: "See", change: "Change", remove: "Remove", export: "Download" };
export const WHO: Record<To, string> = { see: "sees", change: "may change", remove: "may remove", export: "may download" };

export type HrefFor = (asked: { as?: string; to?: string; field?: string }) => string;

export function RecordWhy({ v, table, href, at }: { v: RecordView; table: Table; href: HrefFor; at: string }) {
  const open = v.fields.filter((f) => f.open).length;
  const asked = v.field ? v.fields.find((f) => f.field.id === v.field!.id)! : null;
  const yes = asked ? asked.open : v.allowed;
  const what = asked ? `its ${asked.field.name}` : "it";
  return (
    <section className="sheet grid gap-5 p-5" aria-label="Why">
      <WhyForForm at={at} v={v} what={what} table={table} />
      <nav aria-label="What they would do" className="flex flex-wrap gap-x-6 gap-y-1 border-b border-base-300">
        {v.outcomes.map((o) => (
          <Link
            key={o.to}
            href={href({ to: o.to })}
            aria-current={o.to === v.to ? "true" : undefined}
            className="-mb-px border-b-2 border-transparent pb-1.5 hover:underline aria-[current=true]:border-primary aria-[current=true]:font-semibold"
          >
            {NAME[o.to]} <span className={o.open ? "text-success" : "quiet"}>{o.open ? "yes" : "no"}</span>
          </Link>
        ))}
      </nav>
      <div className="grid gap-2">
        <p className="text-[1.05rem] font-semibold">
          {v.looked.name} {DOES[v.to][yes ? 0 : 1]} {what}
          {asked
            ? asked.why
              ? `, ${asked.open ? asked.why : `for ${asked.why}`}`
              : ""
            : v.allowed
              ? `, ${open} of ${v.fields.length} fields`
              : ""}
          .
        </p>
        <ol className="grid list-decimal gap-1 pl-5">
          {v.lines.map((s) => (
            <li key={s.text} className={s.holds ? "" : "text-accent"}>
              {s.text}
            </li>
          ))}
        </ol>
        {v.to === "change" && v.allowed && (
          <p className="quiet max-w-prose">
            After the change one of these grants must still match the record, and relations may lead only to records they see.
          </p>
        )}
      </div>
      {v.allowed && (
        <dl className="grid gap-x-6 gap-y-1 border-t border-base-300/60 pt-4 sm:grid-cols-2" aria-label="Field by field">
          {v.fields.map((f) => (
            <div key={f.field.id} className="grid grid-cols-[minmax(6rem,8.5rem)_1fr] gap-x-3">
              <dt className={f.field.id === v.field?.id ? "font-semibold" : "font-medium"}>
                <Link className="hover:underline" href={href({ field: f.field.slug })}>
                  {f.field.name}
                </Link>
              </dt>
              <dd className={f.open ? "quiet" : "text-accent"}>
                {f.open ? f.why || "open to the owner" : `${v.to === "change" ? "not theirs to set" : "hidden"}: ${f.why}`}
              </dd>
            </div>
          ))}
        </dl>
      )}
    </section>
  );
}

interface WhyForFormProps {
  readonly at: string;
  readonly v: RecordView;
  readonly what: string;
  readonly table: Table;
}

/** Chooses about whom the question is asked. */
function WhyForForm({ at, v, what, table }: WhyForFormProps) {
  return (
    <form className="flex flex-wrap items-end gap-x-4 gap-y-3">
      <PersonChoice
        label="Why, for"
        at={at}
        value={asOf(v.looked)}
        choices={v.people.map((s) => ({
          as: asOf(s),
          text: `${s.name}${s.company ? `, ${s.company}` : ""}${v.sees.has(asOf(s)) ? ` (${WHO[v.to]} ${what})` : ""}`,
        }))}
      />
      <label className="grid gap-1">
        <span className="field-label mb-0!">Asked about</span>
        <AutoSelect key={v.field?.slug ?? ""} name="field" defaultValue={v.field?.slug ?? ""} className="select w-52">
          <option value="">the whole record</option>
          {table.fields.map((f) => (
            <option key={f.id} value={f.slug}>
              {f.name}
            </option>
          ))}
        </AutoSelect>
      </label>
      <input type="hidden" name="to" value={v.to} />
      <input type="hidden" name="of" value={v.which} />
    </form>
  );
}
