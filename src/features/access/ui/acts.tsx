/** What can be done with records beside the five actions: each act in a sentence, and who may do it. */

import type { Act } from "@/core/access/act";
import { toWords } from "@/core/exchange/present";
import { type Field, kindOf } from "@/core/schema/types";
import type { AccessView } from "@/office/checking";
import { ActForm } from "./act-form";

export function Acts({ v, portal }: { v: AccessView; portal: string }) {
  const { definition: d, schema } = v;
  const tables = schema.tables.map((t) => ({
    id: t.id,
    name: t.name,
    fields: t.fields
      .filter((f) => !f.system)
      .map((f) => ({
        id: f.id,
        name: f.name,
        type: f.type,
        choices: (f.options.choices ?? []).map((c) => ({ id: c.id, name: c.name })),
        target: f.options.target ?? null,
        written: writtenIn(d.acts, f, v.definition.portal),
      })),
  }));
  return (
    <section aria-labelledby="acts" className="grid gap-4 [&>*]:min-w-0">
      <div>
        <h2 id="acts">Acts</h2>
        <p className="quiet mt-1 max-w-prose">
          A named thing to do with a record, such as approving it: it sets what is settled here, and whoever a grant lets do it needs no
          right to change those fields otherwise. On pages it is a button.
        </p>
      </div>
      {d.acts.length > 0 && (
        <ul className="sheet divide-y divide-base-300/60">
          {d.acts.map((a) => (
            <li key={a.id} className="grid gap-1 px-4 py-2.5">
              <p>{sentence(v, a)}</p>
              <p className="quiet text-sm">{whoMay(v, a)}</p>
              <ActForm portal={portal} revision={v.revision} tables={tables} act={a} />
            </li>
          ))}
        </ul>
      )}
      <ActForm portal={portal} revision={v.revision} tables={tables} act={null} />
    </section>
  );
}

/** Numbers that acts set, as somebody wrote them: they are kept scaled. */
const writtenIn = (acts: readonly Act[], f: Field, portal: Parameters<typeof toWords>[2]): Record<string, string> =>
  Object.fromEntries(
    kindOf(f).literal === "number"
      ? acts.flatMap((a) =>
          a.sets.flatMap((s) =>
            s.field === f.id && s.to.kind === "literal" ? [[a.id, kindOf(f).texts(s.to.value as never, f, portal.timeZone)[0] ?? ""]] : [],
          ),
        )
      : [],
  );

function sentence(v: AccessView, a: Act): string {
  const table = v.schema.findTable(a.table);
  const things = table?.name ?? "a removed table";
  if (a.on === "talk") return `“${a.name}”: reading and writing in the conversation about one of ${things}.`;
  const sets = a.sets.map(({ field, to }) => {
    const f = v.schema.findField(field);
    const value =
      to.kind === "literal"
        ? f
          ? toWords(f, to.value as never, v.definition.portal)
          : String(to.value)
        : to.kind === "date"
          ? "today"
          : to.of === "person"
            ? "whoever does it"
            : "their company";
    return `${f?.name ?? "a field that is gone"} to ${value}`;
  });
  if (a.on === "accept") {
    const version = (a.accepts ?? []).map((f) => v.schema.findField(f)?.name ?? "a field that is gone").join(", ");
    return `“${a.name}” accepts one of ${things} as it stands (${version}): who, when and which version are kept${sets.length > 0 ? `; sets ${sets.join(", ")}` : ""}.`;
  }
  return `“${a.name}” ${a.on === "add" ? "adds one of" : "on"} ${things}: sets ${sets.join(", ") || "nothing"}.`;
}

function whoMay(v: AccessView, a: Act): string {
  const roles = new Set(v.definition.grants.filter((g) => g.acts?.includes(a.id)).flatMap((g) => g.roles));
  return roles.size === 0 ? "No grant opens it yet." : `Done by ${[...roles].map((r) => v.policy.role(r)?.name ?? r).join(", ")}.`;
}
