import { formatMoment } from "@/core/text/format";
import type { Desk } from "@/data/records/desk";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { endedSends, openCount, openSends, type Send } from "@/office/sources/back/queue";
import { canMake, outgoing } from "@/office/sources/back/ways";
import type { Feed } from "@/office/sources/feeds";
import type { Source } from "@/office/sources/sources";
import { plural } from "@/office/words";
import { Link } from "@/ui/link";
import { OutForm } from "./out-form";
import { SettleButtons, TryNow } from "./settle-buttons";

/** What is on its way to the other system, or asked about; nothing where all has arrived. */
export function OnItsWay({ p, f, source, desk }: { p: OfficePortal; f: Feed; source: Source; desk: Desk }) {
  const open = openSends(p.file, f.id);
  return open.length > 0 ? <OnTheirWay p={p} f={f} source={source} desk={desk} sends={open} /> : null;
}

/** What goes back to the other system: which fields, and what became of the last changes. */
export function GoingBack({ p, f, source, desk }: { p: OfficePortal; f: Feed; source: Source; desk: Desk }) {
  const can = outgoing(p.file, f);
  const ended = endedSends(p.file, f.id);
  const any = Object.keys(f.ways).length;
  return (
    <>
      <details>
        <summary className="link-plain cursor-pointer">
          What goes back to {source.name}: {any === 0 ? "nothing" : plural(p, any, "field", "fields")}
        </summary>
        <div className="mt-3">
          {can.ok ? (
            <OutForm
              key={JSON.stringify([f.ways, f.makes, f.rule])}
              portal={p.slug}
              id={f.id}
              system={source.name}
              makes={canMake(p.file, f)}
              fields={can.value.map((o) => ({ id: o.field.id, name: o.field.name, column: o.column }))}
              out={{ ways: f.ways, makes: f.makes, rule: f.rule }}
            />
          ) : (
            <p className="quiet">{can.error}</p>
          )}
        </div>
      </details>
      {ended.length > 0 && (
        <details>
          <summary className="link-plain cursor-pointer">The last changes that went back</summary>
          <ul className="mt-2 divide-y divide-base-300">
            {ended.map((s) => (
              <li key={s.n} className="flex flex-wrap items-baseline gap-x-4 gap-y-0.5 py-1.5">
                <Moment p={p} at={s.endedAt ?? s.madeAt} />
                <RecordOf p={p} f={f} desk={desk} s={s} />
                <span>{s.state === "sent" ? "Arrived" : "Not sent"}</span>
                {s.message && <span className="text-sm text-accent">{s.message}</span>}
                {s.theirs && <Both s={s} source={source} />}
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}

function OnTheirWay({ p, f, source, desk, sends }: { p: OfficePortal; f: Feed; source: Source; desk: Desk; sends: readonly Send[] }) {
  const asked = openCount(p.file, f.id, "asked");
  const waiting = openCount(p.file, f.id, "waiting");
  return (
    <section className="grid gap-2" aria-label={`On their way to ${source.name}`}>
      <div className="flex flex-wrap items-center justify-between gap-2">
        <h3>
          {waiting > 0 && `${plural(p, waiting, "change is", "changes are")} on the way`}
          {waiting > 0 && asked > 0 && ", "}
          {asked > 0 && `${plural(p, asked, "is", "are")} for you to decide`}
        </h3>
        {waiting > 0 && f.pausedAt === null && <TryNow portal={p.slug} id={f.id} />}
      </div>
      <ul className="divide-y divide-base-300">
        {sends.map((s) => (
          <li key={s.n} className="flex flex-wrap items-center gap-x-4 gap-y-1 py-2">
            <Moment p={p} at={s.madeAt} />
            <RecordOf p={p} f={f} desk={desk} s={s} />
            {s.message && <span className="text-sm text-accent">{s.message}</span>}
            {s.state === "asked" && s.theirs && (
              <>
                <Both s={s} source={source} />
                <SettleButtons portal={p.slug} n={s.n} of={nameOf(p, f, desk, s)} system={source.name} />
              </>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

const Moment = ({ p, at }: { p: OfficePortal; at: number }) => {
  const { locale, timeZone } = p.live.definition.portal;
  return <span className="quiet text-sm">{formatMoment(new Date(at).toISOString(), locale, timeZone)}</span>;
};

function nameOf(p: OfficePortal, f: Feed, desk: Desk, s: Send): string {
  const table = f.tableId ? p.live.policy.schema.findTable(f.tableId) : undefined;
  return (table && desk.labelOf(table, s.recordId)) ?? table?.singular ?? "a record";
}

function RecordOf({ p, f, desk, s }: { p: OfficePortal; f: Feed; desk: Desk; s: Send }) {
  const table = f.tableId ? p.live.policy.schema.findTable(f.tableId) : undefined;
  return table ? (
    <Link className="link-plain" href={`${p.at}/check/${table.slug}/${s.recordId}`}>
      {nameOf(p, f, desk, s)}
    </Link>
  ) : null;
}

/** The two values of what was changed both here and there. */
const Both = ({ s, source }: { s: Send; source: Source }) => (
  <span className="text-sm">
    {Object.keys(s.theirs ?? {}).map((c) => (
      <span key={c} className="block">
        {c}: <q>{s.ours?.[c] ?? ""}</q> here, <q>{s.theirs?.[c] ?? ""}</q> in {source.name}
        {s.outcome && s.state !== "asked" && (s.outcome === "ours" ? "; ours stayed" : "; theirs stayed")}
      </span>
    ))}
  </span>
);
