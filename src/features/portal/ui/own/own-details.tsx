import { PICTURE_FIELD } from "@/core/schema/types";
import { dialIn } from "@/core/text/telephone";
import type { PortalRequest } from "@/identity/requests/request";
import { FieldValue } from "@/ui/field-value";
import { recordHref } from "../../pages-for";
import { columns, localeOf, sayOf } from "../../queries";
import { changingForm } from "../../records/forms";

/** What grants open of one's own record: as one reads it, and where one may change it, the way there. */
export function Details({ r, personId }: { r: PortalRequest; personId: string }) {
  const { people } = r.published.policy.schema;
  const say = sayOf(r);
  const locale = localeOf(r);
  const record = r.desk.may(people, "see") ? r.desk.read(people, personId) : undefined;
  if (!record) return null;
  const fields = columns(r, people).filter(
    (f) => f.id in record.fields && !f.system && f.id !== PICTURE_FIELD && f.id !== people.labelFieldId,
  );
  const may = changingForm(r, people, personId) !== null;
  if (fields.length === 0 && !may) return null;
  return (
    <section className="sheet grid gap-3 p-5" aria-labelledby="details">
      <h2 id="details">{say("me.details")}</h2>
      <dl className="grid gap-x-5 gap-y-2 sm:grid-cols-[minmax(7rem,12rem)_1fr]">
        {fields.map((f) => (
          <div key={f.id} className="contents">
            <dt className="quiet">{f.name}</dt>
            <dd>
              <FieldValue
                field={f}
                value={record.fields[f.id]}
                locale={locale}
                href={recordHref(r)}
                filesAt={r.base}
                dial={dialIn(locale.locale)}
              />
            </dd>
          </div>
        ))}
      </dl>
      {may && (
        <a className="btn btn-sm justify-self-start" href={`${r.base}/${people.slug}/${personId}/change`}>
          {say("me.details-change")}
        </a>
      )}
    </section>
  );
}
