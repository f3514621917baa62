/** What happened to the page's record: when, who, and which of the fields that the reader sees. */

import { toWords } from "@/core/exchange/present";
import type { SectionOf } from "@/core/pages/page";
import { holdsFiles, isRelation } from "@/core/schema/fields/natures";
import type { SeenValue } from "@/core/schema/seen";
import type { Field, Value } from "@/core/schema/types";
import type { Happened } from "@/data/records/history";
import type { PortalRequest } from "@/identity/requests/request";
import { localeOf, sayOf } from "../../queries";
import { headingId, type SectionProps } from "../at";

const SHOWN = 40;

export function HistorySection({ at, section }: SectionProps<SectionOf<"history">>) {
  const { r, about } = at;
  if (!about) return null;
  const say = sayOf(r);
  const { table, record } = about;
  const only = section.config.fields ? new Set(section.config.fields) : null;
  const happened = r.desk.history(table, record.id, only);
  const { locale, timeZone } = localeOf(r);
  const when = new Intl.DateTimeFormat(locale, { dateStyle: "medium", timeStyle: "short", timeZone });
  const actors = new Map<string, string>();
  return (
    <>
      <h2 id={headingId(section)}>{section.title || say("history.title")}</h2>
      {happened.length === 0 ? (
        <p className="quiet">{say("history.none")}</p>
      ) : (
        <ol className="sheet divide-y divide-base-300/60">
          {happened.slice(0, SHOWN).map((h) => (
            <li key={h.id} className="grid gap-1 px-5 py-3 sm:grid-cols-[12rem_1fr]">
              <span className="quiet text-sm">
                <time dateTime={new Date(h.at).toISOString()}>{when.format(h.at)}</time>
                <span className="block">{actorName(r, h, actors)}</span>
              </span>
              <ul>
                {h.changes.map((c) => {
                  const field = r.desk.schema.field(c.field);
                  const [before, after] = [worded(r, field, c.before), worded(r, field, c.after)];
                  return (
                    <li key={c.field}>
                      <span className="font-medium">{field.name}</span>: {before && <del className="quiet">{before}</del>}{" "}
                      {before && after && "→ "}
                      {after ? <ins className="no-underline">{after}</ins> : <span className="quiet">{say("sheet.empty")}</span>}
                    </li>
                  );
                })}
              </ul>
            </li>
          ))}
        </ol>
      )}
      {happened.length > SHOWN && <p className="quiet text-sm">{say("history.more", { n: happened.length - SHOWN })}</p>}
    </>
  );
}

/** The person's name where the reader sees them; else only their side, the agency or a company. */
function actorName(r: PortalRequest, { actor }: Happened, known: Map<string, string>): string {
  const say = sayOf(r);
  // Clients do not learn whether the key is the agency's or a company's.
  if (actor.kind === "key") return say("history.program");
  if (actor.kind !== "person" || !actor.id) return actor.kind === "visitor" ? say("history.visitor") : r.published.definition.portal.name;
  if (actor.id === r.viewer.person?.id) return say("history.you");
  const there = known.get(actor.id);
  if (there !== undefined) return there;
  const name = r.desk.labelOf(r.desk.schema.people, actor.id) ?? say("history.somebody");
  known.set(actor.id, name);
  return name;
}

function worded(r: PortalRequest, field: Field, v: Value | "hidden"): string {
  const say = sayOf(r);
  if (v === "hidden") return say("history.hidden");
  if (isRelation(field)) {
    const target = r.desk.schema.table(field.options.target);
    const ids = Array.isArray(v) ? (v as string[]) : v === null ? [] : [String(v)];
    return ids.map((id) => r.desk.labelOf(target, id) ?? say("history.hidden")).join(", ");
  }
  if (holdsFiles(field)) return say("history.files", { n: Array.isArray(v) ? v.length : 0 });
  return toWords(field, v as SeenValue, localeOf(r));
}
