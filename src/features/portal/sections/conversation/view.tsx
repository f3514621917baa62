/** Messages between the company and the agency, about the page's record. */

import { sideOf } from "@/core/access/who/viewer";
import type { SectionOf } from "@/core/pages/page";
import { talkFieldId } from "@/data/files/talk";
import type { Spoken } from "@/data/records/talk";
import type { PortalRequest } from "@/identity/requests/request";
import { Files } from "@/ui/field-value";
import { localeOf, sayOf } from "../../queries";
import { actingAs } from "../../records/forms";
import { headingId, type SectionProps } from "../at";
import { TalkForm } from "./talk-form";

/** The last of them are shown; the rest unfold. */
const SHOWN = 30;

export function ConversationSection({ at, section }: SectionProps<SectionOf<"conversation">>) {
  const { r, about } = at;
  const spoken = about && r.desk.conversation(about.table, about.record.id);
  if (!spoken) return null;
  const say = sayOf(r);
  const earlier = spoken.slice(0, -SHOWN);
  const agency = sideOf(r.viewer) === "agency";
  return (
    <>
      <h2 id={headingId(section)}>{section.title || say("talk.title")}</h2>
      <div className="sheet grid gap-4 p-5">
        {spoken.length === 0 && <p className="quiet">{say("talk.none")}</p>}
        {earlier.length > 0 && (
          <details>
            <summary className="link-plain w-fit cursor-pointer">{say("history.more", { n: earlier.length })}</summary>
            <Messages r={r} of={earlier} />
          </details>
        )}
        {spoken.length > 0 && <Messages r={r} of={spoken.slice(-SHOWN)} />}
        <TalkForm
          table={about!.table.id}
          record={about!.record.id}
          files={talkFieldId(about!.table)}
          uploads={`${r.base}/-/uploads`}
          acting={actingAs(r)}
          notes={agency}
          closed={r.seeAs ? say("talk.closed") : null}
        />
      </div>
    </>
  );
}

function Messages({ r, of }: { r: PortalRequest; of: readonly Spoken[] }) {
  const say = sayOf(r);
  const { locale, timeZone } = localeOf(r);
  const when = new Intl.DateTimeFormat(locale, { dateStyle: "medium", timeStyle: "short", timeZone });
  const names = new Map<string, string>();
  return (
    <ol className="grid gap-4">
      {of.map((m) => (
        <li key={m.id} className={m.inside ? "rounded-box border border-dashed border-base-300 bg-base-200/60 p-3" : ""}>
          <p className="flex flex-wrap items-baseline gap-x-3 text-sm">
            <span className="font-semibold">{authorOf(r, m, names)}</span>
            <time className="quiet" dateTime={new Date(m.at).toISOString()}>
              {when.format(m.at)}
            </time>
            {m.inside && <span className="tag">{say("talk.inside")}</span>}
          </p>
          <p className="mt-1 max-w-prose whitespace-pre-line" dir="auto">
            {m.body}
          </p>
          {m.files.length > 0 && (
            <div className="mt-2">
              <Files files={m.files} at={r.base} small={false} still={false} />
            </div>
          )}
        </li>
      ))}
    </ol>
  );
}

/** By name where the reader sees that person; the agency by its own name otherwise. */
function authorOf(r: PortalRequest, { author }: Spoken, known: Map<string, string>): string {
  const say = sayOf(r);
  const agency = say("talk.agency", { portal: r.published.definition.portal.name });
  if (author.kind === "key") return say("history.program");
  if (author.kind !== "person" || !author.id) return author.kind === "visitor" ? say("history.visitor") : agency;
  if (author.id === r.viewer.person?.id) return say("history.you");
  const there = known.get(author.id);
  if (there !== undefined) return there;
  const name = r.desk.labelOf(r.desk.schema.people, author.id) ?? say("history.somebody");
  known.set(author.id, name);
  return name;
}
