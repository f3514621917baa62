"use client";
/** Temporary passwords, shown this once: to print, or to take along as a file. */
import { BYTE_ORDER_MARK, csvLines } from "@/core/exchange/write-csv";
import type { HandedOver as Handed } from "../../invitations";
import { PrintButton } from "./print-button";

interface Props {
  portal: string;
  address: string;
  given: readonly Handed[];
}

export function HandedOver({ portal, address, given }: Props) {
  const file = (): void => {
    const rows = [["Name", "E-mail", "Password", "Address"], ...given.map((g) => [g.name, g.email, g.password, address])];
    const url = URL.createObjectURL(new Blob([BYTE_ORDER_MARK + csvLines(rows)], { type: "text/csv;charset=utf-8" }));
    const a = Object.assign(document.createElement("a"), { href: url, download: "passwords.csv" });
    a.click();
    URL.revokeObjectURL(url);
  };
  return (
    <section className="grid gap-3" aria-label="Temporary passwords">
      <p className="print:hidden">
        They are shown this once, and no mail carries them: each is replaced at the first sign-in. Print the sheet and cut it, or take the
        file along.
      </p>
      <div className="flex gap-3 print:hidden">
        <PrintButton />
        <button type="button" className="btn btn-sm" onClick={file}>
          Download as a file
        </button>
      </div>
      <ul className="print-sheet grid gap-3 sm:grid-cols-2">
        {given.map((g) => (
          <li key={g.email} className="grid gap-1 break-inside-avoid rounded-lg border border-base-300 bg-base-100 p-4">
            <strong className="font-medium">{g.name}</strong>
            <span className="text-sm">{portal}</span>
            <span className="text-sm break-all">{address}</span>
            <span className="text-sm break-all">{g.email}</span>
            <code className="mt-1 text-base break-all">{g.password}</code>
          </li>
        ))}
      </ul>
    </section>
  );
}
