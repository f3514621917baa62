"use client";
/** What the file is: rows and columns, the sheet of a workbook, and the row that names the columns. */
import { useRouter } from "next/navigation";
import { useState, useTransition } from "react";
import { answered } from "@/ui/answered";
import { readAgain } from "../../imports";

export interface Shape {
  fileName: string;
  rows: number;
  ragged: number;
  blank: number;
  sheets: string[];
  sheet: number;
  headerAt: number;
  /** The first rows, as lines of words. */
  first: string[];
  locale: string;
}

export function FileShape({ portal, importId, shape: s, columns }: { portal: string; importId: string; shape: Shape; columns: number }) {
  const router = useRouter();
  const [busy, start] = useTransition();
  const [message, setMessage] = useState<string | null>(null);
  const n = (x: number): string => x.toLocaleString(s.locale);
  const read = (sheet: number, headerAt: number | null): void =>
    start(async () => {
      const answer = await answered(readAgain(portal, importId, { sheet, headerAt }));
      if (!answer) return;
      setMessage(answer.ok ? null : answer.message);
      if (answer.ok) router.refresh();
    });
  return (
    <div className="grid gap-3">
      <p className="quiet">
        {s.fileName}: {n(s.rows)} rows, {columns} columns.
        {s.blank > 0 && ` ${s.blank === 1 ? "One blank row is" : `${n(s.blank)} blank rows are`} passed over.`}
        {s.ragged > 0 && ` ${s.ragged === 1 ? "One row has" : `${n(s.ragged)} rows have`} too many or too few cells and will be refused.`}
      </p>
      <div className="flex flex-wrap items-end gap-4">
        {s.sheets.length > 1 && (
          <label className="grid gap-1 text-sm">
            <span className="quiet">Sheet</span>
            <select className="select select-sm" value={s.sheet} disabled={busy} onChange={(e) => read(Number(e.target.value), null)}>
              {s.sheets.map((name, i) => (
                <option key={name} value={i}>
                  {name}
                </option>
              ))}
            </select>
          </label>
        )}
        <details className="text-sm">
          <summary className="link-plain cursor-pointer">
            {s.headerAt === 0
              ? "The first row names the columns"
              : `Row ${s.headerAt + 1} names the columns; those above it are passed over`}
          </summary>
          <select
            aria-label="The row that names the columns"
            className="select select-sm mt-2 max-w-md"
            value={s.headerAt}
            disabled={busy}
            onChange={(e) => read(s.sheet, Number(e.target.value))}
          >
            {s.first.map((words, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: rows of a file have no other identity, and two may be alike
              <option key={i} value={i}>
                {i === 0 ? "the first row" : `row ${i + 1}`}: {words}
              </option>
            ))}
          </select>
        </details>
        {busy && <span className="loading loading-spinner loading-sm" role="status" aria-label="Reading the file again" />}
      </div>
      {message && (
        <p role="alert" className="alert alert-error">
          {message}
        </p>
      )}
    </div>
  );
}
