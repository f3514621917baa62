/** Who accepted the page's record in which version, and the way to accept the one that stands here. */
import type { Act } from "@/core/access/act";
import { doingOf } from "@/core/access/rules";
import type { SeenRecord } from "@/core/schema/seen";
import type { Table } from "@/core/schema/types";
import type { Accepted } from "@/data/records/accept";
import type { PortalRequest } from "@/identity/requests/request";
import { localeOf, sayOf } from "../../queries";
import { actingAs } from "../../records/forms";
import { AcceptButton } from "../../ui/accept-button";

interface Props {
  r: PortalRequest;
  table: Table;
  record: SeenRecord;
  /** Acts that the sheet shows, in its order. */
  acts: readonly string[];
}

export function AcceptedPart({ r, table, record, acts }: Props) {
  const mine = (r.published.definition.acts as readonly Act[]).filter(
    (a) => a.on === "accept" && a.table === table.id && acts.includes(a.id),
  );
  if (mine.length === 0) return null;
  const say = sayOf(r);
  const { locale, timeZone } = localeOf(r);
  const when = new Intl.DateTimeFormat(locale, { dateStyle: "long", timeStyle: "short", timeZone });
  const list = r.desk.acceptances(table, record.id, mine);
  const open = mine.flatMap((act) => {
    const seen = r.desk.versionNow(table, record.id, act);
    const done = list.some((a) => a.act === act.id && a.now && a.author.kind === "person" && a.author.id === r.viewer.person?.id);
    return seen && !done && r.desk.whereMay(table, doingOf(act), [record.id]).size > 0 ? [{ act, seen }] : [];
  });
  if (open.length === 0 && list.length === 0) return null;
  return (
    <section className="sheet grid gap-3 p-5" aria-label={say("accept.title")}>
      {list.length === 0 && <p className="quiet">{say("accept.none")}</p>}
      {list.length > 0 && (
        <ul className="grid gap-2">
          {list.map((a) => (
            <li key={a.id}>
              {say("accept.by", { act: mine.find((x) => x.id === a.act)?.name ?? "", person: nameOf(r, a), when: when.format(a.at) })}{" "}
              <span className="quiet text-sm" title={a.hash}>
                {say("accept.version", { hash: a.hash.slice(0, 10) })}
                {a.now ? "" : `. ${say("accept.earlier")}`}
              </span>
            </li>
          ))}
        </ul>
      )}
      {open.length > 0 && (
        <div className="flex flex-wrap gap-2">
          {open.map(({ act, seen }) => (
            <AcceptButton
              key={act.id}
              act={act.id}
              name={act.name}
              record={record.id}
              seen={seen}
              acting={actingAs(r)}
              closed={r.seeAs !== null}
            />
          ))}
        </div>
      )}
    </section>
  );
}

/** By name where the reader sees that person; what the name was is for the agency, when they are gone. */
function nameOf(r: PortalRequest, { author }: Accepted): string {
  const say = sayOf(r);
  if (author.kind !== "person" || !author.id) return r.published.definition.portal.name;
  if (author.id === r.viewer.person?.id) return say("history.you");
  return r.desk.labelOf(r.desk.schema.people, author.id) ?? say("history.somebody");
}
