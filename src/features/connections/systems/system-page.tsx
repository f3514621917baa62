import { notFound } from "next/navigation";
import { formatMoment } from "@/core/text/format";
import { Desk } from "@/data/records/desk";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { adopt, EVERY, type Feed, feedsOf, keyChoices, type Run, runsOf } from "@/office/sources/feeds";
import { adapterOf, type Source, sourceById } from "@/office/sources/sources";
import { Link } from "@/ui/link";
import { Again } from "./again";
import { Choices } from "./choices";
import { Disconnect } from "./disconnect";
import { FeedButtons } from "./feed-buttons";
import { FeedForm } from "./feed-form";
import { GoingBack, OnItsWay } from "./going-back";
import { ReadState } from "./systems-page";
import { everyWords, runWords } from "./words";

/** One system: what comes in from it and how, what came, and what else there is. */
export function SystemPage({ p, id }: { p: OfficePortal; id: string }) {
  const source = sourceById(p.file, id);
  if (!source) notFound();
  const feeds = feedsOf(p.file, id).map((f) => adopt(p.file, p.owner, f));
  const adapter = adapterOf(source.kind);
  const list = `${p.at}/connections/systems`;
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <nav aria-label="Where you are" className="-mb-3 text-sm">
        <Link className="link-plain" href={list}>
          Other systems
        </Link>
      </nav>
      <div className="flex flex-wrap items-start justify-between gap-3">
        <div className="min-w-0">
          <h1>{source.name}</h1>
          <p className="quiet mt-1 break-all">
            {adapter.name}: {source.settings.address ?? source.settings.host ?? ""}
          </p>
        </div>
        <Disconnect portal={p.slug} id={id} name={source.name} list={list} />
      </div>
      {feeds.map((f) => (
        <FeedPart key={f.id} p={p} f={f} source={source} />
      ))}
      <section className="sheet grid gap-3 p-5" aria-labelledby="choose">
        <h2 id="choose">{feeds.length === 0 ? "Choose what comes in" : "Bring in more"}</h2>
        <Choices portal={p.slug} id={id} filters={adapter.filters ?? false} />
      </section>
    </div>
  );
}

function FeedPart({ p, f, source }: { p: OfficePortal; f: Feed; source: Source }) {
  const desk = new Desk(p.file, p.live.policy, p.owner);
  const table = f.tableId === null ? undefined : p.live.policy.schema.findTable(f.tableId);
  const keys = f.plan ? keyChoices(p.file, f.plan) : [];
  return (
    <section className="sheet grid gap-4 p-5" aria-labelledby={`feed-${f.id}`}>
      <div className="flex flex-wrap items-start justify-between gap-3">
        <div>
          <h2 id={`feed-${f.id}`}>{f.name}</h2>
          <p className="quiet mt-1">
            {table ? (
              <>
                Into{" "}
                <Link className="link-plain" href={`${p.at}/data/${table.slug}`}>
                  {table.name}
                </Link>
              </>
            ) : f.importId ? (
              <Link className="link-plain" href={`${p.at}/data/import/${f.importId}`}>
                Map its columns, and bring it in
              </Link>
            ) : f.plan === null ? (
              "Its rows are fetched, and then you map its columns."
            ) : (
              "Its table is gone."
            )}
            {f.only && (
              <>
                {" "}
                Only where {f.only.column} is {f.only.values.join(" or ")}.
              </>
            )}
          </p>
        </div>
        <FeedButtons portal={p.slug} id={f.id} name={f.name} mapped={f.plan !== null || f.importId === null} paused={f.pausedAt !== null} />
      </div>
      <ReadState p={p} f={f} />
      {f.plan && <OnItsWay p={p} f={f} source={source} desk={desk} />}
      {f.importId === null && f.pausedAt === null && runsOf(p.file, f.id, 1)[0]?.state === "running" && <Again every={1_500} />}
      {f.plan && (
        <FeedForm
          key={`${f.every} ${f.gone} ${f.plan.key}`}
          portal={p.slug}
          id={f.id}
          every={f.every}
          gone={f.gone}
          at={f.plan.key}
          keys={keys.map((k) => ({ at: k.at, name: k.name }))}
          times={EVERY.map((m) => ({ minutes: m, words: everyWords(m) }))}
        />
      )}
      {f.plan && <GoingBack p={p} f={f} source={source} desk={desk} />}
      <Runs p={p} source={source.id} runs={runsOf(p.file, f.id)} />
    </section>
  );
}

function Runs({ p, source, runs }: { p: OfficePortal; source: string; runs: readonly Run[] }) {
  const { locale, timeZone } = p.live.definition.portal;
  if (runs.length === 0) return null;
  return (
    <details>
      <summary className="link-plain cursor-pointer">The last readings</summary>
      <ul className="mt-2 divide-y divide-base-300">
        {runs.map((r) => (
          <li key={r.n} className="flex flex-wrap items-baseline gap-x-4 gap-y-0.5 py-1.5">
            <Link className="link-plain text-sm" href={`${p.at}/connections/systems/${source}/readings/${r.n}`}>
              {formatMoment(new Date(r.at).toISOString(), locale, timeZone)}
            </Link>
            <span>{runWords(p, r)}</span>
            {r.message && <span className="w-full text-sm text-accent">{r.message}</span>}
          </li>
        ))}
      </ul>
    </details>
  );
}
