"use client";
import { Download } from "lucide-react";
import { useRouter } from "next/navigation";
import { useEffect, useState, useTransition } from "react";
import type { RowProblem } from "@/core/exchange/import-plan";
/** What the check found, and the one button that brings the good rows in. */
import { answered } from "@/ui/answered";
import { Link } from "@/ui/link";
import { bringIn } from "../actions";

export function Checking({ done, total, locale }: { done: number; total: number; locale: string }) {
  const router = useRouter();
  useEffect(() => {
    const timer = setInterval(() => router.refresh(), 700);
    return () => clearInterval(timer);
  }, [router]);
  return (
    <div className="sheet p-6" role="status">
      <p className="mb-3">
        Checking row {done.toLocaleString(locale)} of {total.toLocaleString(locale)}…
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
  good: number;
  bad: number;
  problems: RowProblem[];
  newCompanies: string[];
  locale: string;
}

export function ImportResult({ portal, at, importId, good, bad, problems, newCompanies, locale }: Props) {
  const router = useRouter();
  const [message, setMessage] = useState<string | null>(null);
  const [busy, start] = useTransition();
  const n = (x: number): string => x.toLocaleString(locale);
  const bring = () =>
    start(async () => {
      const answer = await answered(bringIn(portal, importId));
      if (!answer) return;
      if (answer.ok) router.push(`${at}/data/${answer.table}`);
      else setMessage(answer.message);
    });
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      {message && (
        <p role="alert" className="alert alert-error">
          {message}
        </p>
      )}
      <div className="sheet grid gap-2 p-6">
        <p className="title text-xl font-semibold">
          {n(good)} {good === 1 ? "row is" : "rows are"} good{bad > 0 && `, ${n(bad)} ${bad === 1 ? "has a problem" : "have problems"}`}.
        </p>
        {newCompanies.length > 0 && (
          <p className="quiet">
            {newCompanies.length === 1 ? "One company" : `${n(newCompanies.length)} companies`} will be added:{" "}
            {newCompanies.slice(0, 6).join(", ")}
            {newCompanies.length > 6 && ` and ${n(newCompanies.length - 6)} more`}.
          </p>
        )}
        <div className="mt-2 flex flex-wrap items-center gap-3">
          <button type="button" className="btn btn-primary" onClick={bring} disabled={busy || good === 0}>
            {busy && <span className="loading loading-spinner loading-xs" aria-hidden />}
            {busy ? "Bringing them in…" : `Bring in the ${n(good)} good rows`}
          </button>
          <Link className="link-plain" href={`${at}/data/import/${importId}?map=1`}>
            Change the mapping
          </Link>
          <Link className="link-plain" href={`${at}/data/import`}>
            Drop a mended file
          </Link>
        </div>
      </div>
      {problems.length > 0 && (
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
                {problems.slice(0, 100).map((x) => (
                  <tr key={`${x.line} ${x.column}`}>
                    <td className="num">{n(x.line)}</td>
                    <td>{x.column}</td>
                    <td className="max-w-none! whitespace-normal!">{x.reason}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          {bad > 100 && (
            <p className="quiet px-4 py-3 text-sm">The first 100 of {n(bad)}; the download has all of them, with their cells.</p>
          )}
        </section>
      )}
    </div>
  );
}
