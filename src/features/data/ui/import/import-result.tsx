"use client";
/** What the check found: what is new, changed, same and wrong, and the one button that brings it in. */
import { Download } from "lucide-react";
import { useRouter } from "next/navigation";
import { useEffect, useState, useTransition } from "react";
import { toast } from "sonner";
import { broughtWords, leftOutWords } from "@/core/exchange/came-in";
import type { CheckResult } from "@/data/imports/checking/check";
import { answered } from "@/ui/answered";
import { Link } from "@/ui/link";
import { bringIn, takeBack } from "../../imports";
import { MissedNames } from "./missed-names";

const MOST_LISTED = 100;

interface Far {
  readonly done: number;
  readonly total: number;
}

export function Checking({ files, locale, ...rows }: Far & { files: Far | null; locale: string }) {
  const router = useRouter();
  const { done, total } = files ?? rows;
  useEffect(() => {
    const timer = setInterval(() => router.refresh(), 700);
    return () => clearInterval(timer);
  }, [router]);
  return (
    <div className="sheet p-6" role="status">
      <p className="mb-3">
        {files ? "Reading file" : "Checking row"} {done.toLocaleString(locale)} of {total.toLocaleString(locale)}…
      </p>
      <progress
        className="progress progress-primary w-full max-w-md"
        value={done}
        max={Math.max(1, total)}
        aria-label="Progress of the check"
      />
    </div>
  );
}

interface Props {
  portal: string;
  at: string;
  importId: string;
  result: CheckResult;
  /** The table that the rows go into. */
  into: string;
  /** Whether records that are there are known again. */
  keyed: boolean;
  locale: string;
}

export function ImportResult({ portal, at, importId, result: r, into, keyed, locale }: Props) {
  const router = useRouter();
  const [message, setMessage] = useState<string | null>(null);
  const [busy, start] = useTransition();
  const n = (x: number): string => x.toLocaleString(locale);
  const bring = (): void =>
    start(async () => {
      const answer = await answered(bringIn(portal, importId));
      if (!answer) return;
      if (!answer.ok) {
        setMessage(answer.message);
        return;
      }
      router.push(`${at}/data/${answer.table}`);
      if (answer.rows > 0)
        toast.success(`It is in: ${broughtWords(r, n)}. ${leftOutWords(r, n)}`.trim(), {
          duration: 12_000,
          action: { label: "Take it back", onClick: () => void back() },
        });
    });
  const back = async (): Promise<void> => {
    const answer = await answered(takeBack(portal, importId, false));
    if (answer?.ok) {
      router.push(`${at}/data`);
      toast.success("It is taken back: all is as it was before.");
    } else if (answer) {
      // Its page says what would be lost, and asks.
      toast.error(answer.message);
      router.push(`${at}/data/import/${importId}`);
    }
  };
  const doing = r.fresh + r.changed;
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      {message && (
        <p role="alert" className="alert alert-error">
          {message}
        </p>
      )}
      <section className="sheet grid gap-4 p-6" aria-label="What would be done">
        <dl className="flex flex-wrap gap-x-10 gap-y-3">
          <Figure name="New" n={r.fresh} locale={locale} />
          {keyed && <Figure name="Changed" n={r.changed} locale={locale} />}
          {keyed && <Figure name="Same" n={r.same} locale={locale} />}
          <Figure name="Wrong" n={r.bad} locale={locale} tone={r.bad > 0 ? "text-error" : ""} />
        </dl>
        <WhatIsMade r={r} n={n} into={into} />
        <div className="flex flex-wrap items-center gap-3">
          <button type="button" className="btn btn-primary" onClick={bring} disabled={busy || r.good === 0}>
            {busy && <span className="loading loading-spinner loading-xs" aria-hidden />}
            {busy ? "Bringing them in…" : doing === 0 && r.good > 0 ? "Close it: nothing changes" : buttonWords(r, keyed, n)}
          </button>
          <Link className="link-plain" href={`${at}/data/import/${importId}?map=1`}>
            Change the mapping
          </Link>
          <Link className="link-plain" href={`${at}/data/import`}>
            Drop a mended file
          </Link>
        </div>
      </section>
      {r.missed.length > 0 && <MissedNames portal={portal} importId={importId} missed={r.missed} more={r.moreMissed} locale={locale} />}
      {r.changed > 0 && <Changes result={r} n={n} />}
      {r.problems.length > 0 && <Problems result={r} at={at} importId={importId} n={n} />}
    </div>
  );
}

const buttonWords = (r: CheckResult, keyed: boolean, n: (x: number) => string): string => {
  if (!keyed || r.changed === 0) return `Bring in ${r.fresh === 1 ? "the one new record" : `${n(r.fresh)} new records`}`;
  if (r.fresh === 0) return `Change ${r.changed === 1 ? "one record" : `${n(r.changed)} records`}`;
  return `Bring in ${n(r.fresh)} new, change ${n(r.changed)}`;
};

function Figure({ name, n, locale, tone = "" }: { name: string; n: number; locale: string; tone?: string }) {
  return (
    <div>
      <dt className="quiet text-sm">{name}</dt>
      <dd className={`title text-2xl font-semibold tabular-nums ${tone}`}>{n.toLocaleString(locale)}</dd>
    </div>
  );
}

function Changes({ result: r, n }: { result: CheckResult; n: (x: number) => string }) {
  return (
    <section className="sheet overflow-hidden" aria-label="What changes">
      <div className="border-b border-base-300 px-4 py-3">
        <h2>What changes</h2>
        <p className="quiet mt-1 text-sm">
          {r.fields.map((f) => `${f.name} in ${f.rows === 1 ? "one record" : `${n(f.rows)} records`}`).join(", ")}.
        </p>
      </div>
      <div className="overflow-x-auto">
        <table className="grid-table">
          <thead>
            <tr>
              <th scope="col">Record</th>
              <th scope="col">Field</th>
              <th scope="col">Now</th>
              <th scope="col">In the file</th>
            </tr>
          </thead>
          <tbody>
            {r.examples.flatMap((e, i) =>
              e.changes.map((c, j) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: two records may have the same name; the list does not change
                <tr key={`${i} ${c.field}`}>
                  <td className="font-medium">{j === 0 ? e.name : ""}</td>
                  <td>{c.field}</td>
                  <td className="quiet">{c.before || "empty"}</td>
                  <td>{c.after || "empty"}</td>
                </tr>
              )),
            )}
          </tbody>
        </table>
      </div>
      {r.changed > r.examples.length && (
        <p className="quiet px-4 py-3 text-sm">
          The first {r.examples.length} of {n(r.changed)} records.
        </p>
      )}
    </section>
  );
}

function Problems({ result: r, at, importId, n }: { result: CheckResult; at: string; importId: string; n: (x: number) => string }) {
  const listed = r.problems.slice(0, MOST_LISTED);
  const shown = new Set(listed.map((x) => x.line)).size;
  return (
    <section className="sheet overflow-hidden" aria-label="Rows with problems">
      <div className="flex flex-wrap items-center justify-between gap-3 border-b border-base-300 px-4 py-3">
        <h2>Rows with problems</h2>
        <a className="btn btn-sm" href={`${at}/data/import/${importId}/problems`} download>
          <Download size={15} aria-hidden /> Download as CSV
        </a>
      </div>
      <div className="overflow-x-auto">
        <table className="grid-table">
          <thead>
            <tr>
              <th scope="col" className="num">
                Line
              </th>
              <th scope="col">Column</th>
              <th scope="col">What is wrong</th>
            </tr>
          </thead>
          <tbody>
            {listed.map((x) => (
              <tr key={`${x.line} ${x.column} ${x.reason}`}>
                <td className="num">{n(x.line)}</td>
                <td>{x.column}</td>
                <td className="max-w-none! whitespace-normal!">{x.reason}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {shown < r.bad && (
        <p className="quiet px-4 py-3 text-sm">
          Problems of the first {n(shown)} of {n(r.bad)} rows; the download has all of them, with their cells.
        </p>
      )}
    </section>
  );
}

interface WhatIsMadeProps {
  readonly r: CheckResult;
  readonly n: (x: number) => string;
  readonly into: string;
}

/** What is made beside the rows. */
function WhatIsMade({ r, n, into }: WhatIsMadeProps) {
  return (
    <ul className="quiet grid gap-1">
      {r.adds.map((a) => (
        <li key={a.of}>
          {a.of.charAt(0).toUpperCase() + a.of.slice(1)}: {a.count === 1 ? "one" : n(a.count)} will be made:{" "}
          {a.names.slice(0, 6).join(", ")}
          {a.count > 6 && ` and ${n(a.count - 6)} more`}.
        </li>
      ))}
      {r.merged > 0 && (
        <li>{r.merged === 1 ? "One row completes an earlier one" : `${n(r.merged)} rows complete earlier ones`} of the same key.</li>
      )}
      {r.blank > 0 && <li>{r.blank === 1 ? "One blank row is" : `${n(r.blank)} blank rows are`} passed over.</li>}
      {r.lacking.count > 0 && (
        <li>
          {r.lacking.count === 1 ? "One record" : `${n(r.lacking.count)} records`} of {into} {r.lacking.count === 1 ? "is" : "are"} not in
          this file and {r.lacking.count === 1 ? "stays" : "stay"} as {r.lacking.count === 1 ? "it is" : "they are"}:{" "}
          {r.lacking.names.slice(0, 5).join(", ")}
          {r.lacking.count > 5 && " …"}
        </li>
      )}
    </ul>
  );
}
