/** A list on a page: its heading, what narrows it, and the records in the look that was chosen. */
import { Download, Plus, X } from "lucide-react";
import type { ReactNode } from "react";
import type { Section } from "@/core/pages/page";
import type { Table } from "@/core/schema/types";
import type { Source } from "@/core/sections/kind";
import { isWhole, type ListSettings } from "@/core/sections/list";
import { withArticle } from "@/core/text/article";
import type { PortalRequest } from "@/identity/requests/request";
import { Empty } from "@/ui/empty";
import { AutoSelect } from "@/ui/forms/auto-submit";
import { Link } from "@/ui/link";
import { SlashSearch } from "@/ui/slash-search";
import { listHref } from "../../pages-for";
import { missingFeatures, sayOf, seenOf, standingHere } from "../../queries";
import { PlanNote } from "../../ui/plan-note";
import { type At, headingId, type SectionProps } from "../at";
import { exportHref, type ListAddress, listAddress } from "./address";
import { Board } from "./board";
import { Calendar } from "./calendar";
import { Cards } from "./cards";
import { Few } from "./few";
import { Gallery } from "./gallery";
import { KeptViews } from "./kept";
import { type ListView, listView } from "./load";
import type { LookProps, Through } from "./look";
import { Rows } from "./rows";

const LOOKS = { rows: Rows, cards: Cards, board: Board, calendar: Calendar, gallery: Gallery } as const;

export function ListSection({ at, section }: SectionProps<Extract<Section, { kind: "list" }>>) {
  const { source, ...settings } = section.config;
  const table = at.r.desk.schema.table(source.table);
  return <AnyList at={at} section={section} table={table} source={source} settings={settings} through={null} />;
}

interface AnyListProps {
  at: At;
  section: Section;
  table: Table;
  source: Source;
  settings: ListSettings;
  through: Through | null;
}

/** A list, of a table or of what points to the page's record. */
export function AnyList({ at, section, table, source, settings, through }: AnyListProps) {
  const { r } = at;
  if (!r.desk.may(table, "see")) return <Closed at={at} section={section} table={table} />;
  if (settings.look === "few") return <Few at={at} section={section} table={table} source={source} settings={settings} through={through} />;
  const v = listView(r, table, at.search, {
    source,
    settings,
    key: at.key,
    ...(through ? { through: { field: through.field.id, id: through.id } } : {}),
  });
  const address = listAddress(r, v, at.key);
  const narrowed = v.search !== "" || v.related !== null || v.only !== null || v.choiceFilters.some((c) => c.chosen);
  const Look = LOOKS[settings.look];
  const look = <Look at={at} section={section} table={table} settings={settings} v={v} address={address} through={through} />;
  return (
    <>
      <Heading at={at} section={section} table={table} settings={settings} v={v} source={source} through={through} address={address} />
      <Narrowing at={at} table={table} settings={settings} v={v} address={address} narrowed={narrowed} />
      {v.total > 0 || (isWhole(settings.look) && !narrowed) ? (
        look
      ) : (
        <div className="sheet overflow-hidden">
          {narrowed ? (
            <NoMatch r={r} table={table} v={v} />
          ) : (
            <NothingHere r={r} table={table} settings={settings} short={through !== null} />
          )}
        </div>
      )}
    </>
  );
}

function Heading({ at, section, table, settings, v, source, through, address }: AnyListProps & { v: ListView; address: ListAddress }) {
  const { r } = at;
  const say = sayOf(r);
  const title = section.title || (at.head ? at.page.name : table.name);
  const all = through ? listHref(r, table.id) : undefined;
  return (
    <div className="flex flex-wrap items-center justify-between gap-3">
      <div>
        {at.head ? <h1 id={headingId(section)}>{title}</h1> : <h2 id={headingId(section)}>{title}</h2>}
        {at.head && r.seeAs && <p className="mt-1 tabular-nums">{say("list.sees", { things: table.name, ...seenOf(r, table) })}</p>}
      </div>
      <div className="flex flex-wrap items-center gap-2">
        {through && all && v.total > 0 && (
          <Link className="link-plain tabular-nums" href={`${all}?of=${through.field.slug}:${through.id}`}>
            {say("sheet.all", { total: v.total })}
          </Link>
        )}
        {settings.search && !through && v.all > 0 && <KeptViews at={at} section={section.id} address={address} />}
        {settings.downloads && !through && source.filter === null && v.only === null && r.desk.may(table, "export") && v.all > 0 && (
          <a className="btn btn-ghost btn-sm" href={exportHref(r, table, v)} download>
            <Download size={15} aria-hidden /> {say("list.download")}
          </a>
        )}
        {settings.adds && r.desk.may(table, "add") && (
          <Link
            className={`btn btn-sm ${at.head ? "btn-primary" : ""}`}
            href={`${r.base}/${table.slug}/new${through ? `?${through.field.slug}=${through.id}` : ""}`}
          >
            <Plus size={15} aria-hidden /> {say("list.add", { a_thing: withArticle(table.singular) })}
          </Link>
        )}
      </div>
    </div>
  );
}

function Narrowing({ at, table, settings, v, address, narrowed }: Omit<LookProps, "section" | "through"> & { narrowed: boolean }) {
  const { r, key } = at;
  const say = sayOf(r);
  const things = table.name.toLowerCase();
  const features = at.head ? missingFeatures(r, table) : [];
  const chosen = settings.filters === null ? (settings.search ? v.choiceFilters : []) : v.choiceFilters;
  return (
    <>
      {features.length > 0 && <PlanNote say={say} base={r.base} things={say("list.more", { things })} features={features} lapsed={false} />}
      {(settings.search || chosen.length > 0 || v.related || v.only) && (
        <form action={address.at} className="flex flex-wrap items-end gap-3">
          {settings.search && <SlashSearch label={say("list.search", { things })} value={v.search} name={`${key}q`} />}
          {chosen.map(({ field, chosen: value }) => (
            <label key={`${field.id} ${value}`} className="grid gap-1 text-sm">
              <span className="quiet">{field.name}</span>
              <AutoSelect name={`${key}is.${field.slug}`} defaultValue={value} className="select min-w-32">
                <option value="">{say("list.any")}</option>
                {(field.options.choices ?? []).map((c) => (
                  <option key={c.id}>{c.name}</option>
                ))}
              </AutoSelect>
            </label>
          ))}
          {address
            .carried((name) => (name === "q" && settings.search) || (name.startsWith("is.") && chosen.length > 0))
            .map(([name, value]) => (
              <input key={name} type="hidden" name={name} value={value} />
            ))}
          <noscript>
            <button type="submit" className="btn btn-sm">
              {say("list.show")}
            </button>
          </noscript>
          {v.related && (
            <Link href={address.to({ of: null })} className="tag inline-flex items-center gap-1 py-1">
              {`${v.related.field.name}: ${v.related.label}`} <X size={13} aria-hidden />{" "}
              <span className="sr-only">{say("list.take-away")}</span>
            </Link>
          )}
          {v.only && (
            <Link href={address.to({ only: null })} className="tag inline-flex items-center gap-1 py-1">
              {v.only.name} <X size={13} aria-hidden /> <span className="sr-only">{say("list.take-away")}</span>
            </Link>
          )}
          {narrowed && (
            <Link className="link-plain py-1.5 text-sm" href={address.plain}>
              {say("list.show-all")}
            </Link>
          )}
        </form>
      )}
    </>
  );
}

function NoMatch({ r, table, v }: { r: PortalRequest; table: Table; v: ListView }) {
  const say = sayOf(r);
  const things = table.name.toLowerCase();
  return (
    <Empty title={say("list.no-match")}>
      {v.all > 0 ? say("list.no-match-of", { all: v.all, things }) : say("list.nothing-to-search")}
    </Empty>
  );
}

/** Why there is nothing, in words, without telling what others have. */
function NothingHere({ r, table, settings, short }: { r: PortalRequest; table: Table; settings: ListSettings; short: boolean }): ReactNode {
  const { brand } = r.published.definition;
  const say = sayOf(r);
  if (settings.empty) return <Empty title={settings.empty} />;
  if (short) return <p className="quiet px-4 py-3">{say("sheet.none")}</p>;
  const roles = r.viewer.roles.map((x) => r.published.policy.role(x)?.name ?? x).join(", ");
  const whom = roles ? say("list.whom-roles", { roles }) : say("list.whom-you");
  const company = r.viewer.company?.name;
  const why = company ? say("list.company-has-none", { company, whom }) : say("list.there-are-none", { whom });
  return (
    <Empty title={say("list.none-yet", { things: table.name.toLowerCase() })}>
      {r.desk.may(table, "add") ? say("list.you-may-add") : why}
      {brand.contact && ` ${say("list.write-to", { contact: brand.contact })}`}
    </Empty>
  );
}

/** What a plan would open says so; what nothing opens is not there. */
function Closed({ at, section, table }: { at: At; section: Section; table: Table }): ReactNode {
  const { r } = at;
  const features = missingFeatures(r, table);
  if (features.length === 0) return null;
  const title = section.title || table.name;
  return (
    <>
      {at.head ? <h1 id={headingId(section)}>{title}</h1> : <h2 id={headingId(section)}>{title}</h2>}
      <PlanNote say={sayOf(r)} base={r.base} things={table.name} features={features} lapsed={standingHere(r)?.state === "lapsed"} />
    </>
  );
}
