"use client";
/** A page of the portal and its sign-in, in the colours and type as they are chosen; and whether every pair can be read. */
import type { CSSProperties } from "react";
import { brandTheme, readablePairs } from "@/core/brand/theme";
import type { BrandSettings } from "@/core/definition/parts/brand";

const HEADS = { band: "", paper: "border-b border-base-300", line: "border-t-4 border-b border-t-(--brand) border-b-base-300" } as const;

export function BrandPreview({ brand, name, at, locale }: { brand: BrandSettings; name: string; at: string; locale: string }) {
  const money = new Intl.NumberFormat(locale, { style: "currency", currency: "GBP" });
  const date = new Intl.DateTimeFormat(locale, { dateStyle: "medium", timeZone: "UTC" });
  const pairs = readablePairs(brand);
  return (
    <div className="grid content-start gap-5 lg:sticky lg:top-4">
      <section
        aria-label="How it looks"
        data-theme="elkhorn"
        className="overflow-hidden rounded-lg border border-base-300 bg-base-200 text-base-content"
        style={brandTheme(brand) as CSSProperties}
      >
        <div className={HEADS[brand.head]} style={{ background: "var(--head)", color: "var(--head-ink)" }}>
          <div className="flex items-center gap-3 px-6 pt-4 pb-3">
            {brand.logo ? (
              // biome-ignore lint/performance/noImgElement: made small when it was kept
              <img src={`${at}/-/brand/${brand.logo}`} alt={name} className="h-10 w-auto max-w-56 object-contain" />
            ) : (
              <>
                <span aria-hidden className="title grid size-9 place-items-center rounded-full border-2 border-current font-semibold">
                  {brand.monogram}
                </span>
                <span className="title text-lg font-semibold">{name}</span>
              </>
            )}
          </div>
        </div>
        <div className="grid gap-5 px-6 py-6">
          <div>
            <p className="title text-2xl font-semibold">Saltmarsh Infirmary Group</p>
            <p className="quiet mt-1">{brand.motto || "Welcome, Dana."}</p>
          </div>
          <div className="grid gap-4 sm:grid-cols-2">
            <div className="sheet grid gap-2 p-4">
              <p className="title font-semibold">Invoices</p>
              <p className="flex justify-between gap-4">
                <span className="link-plain">F-4101</span>
                <span className="tabular-nums">{money.format(2879)}</span>
              </p>
              <p className="flex justify-between gap-4">
                <span className="link-plain">F-4102</span>
                <span className="tabular-nums">{date.format(Date.UTC(2026, 10, 24))}</span>
              </p>
            </div>
            <div className="sheet grid content-between gap-3 p-4">
              <p>Proof of SA-145 waits for you.</p>
              <span className="btn btn-primary btn-sm justify-self-start">Approve</span>
            </div>
          </div>
          <p className="quiet text-sm">{brand.footer || name}</p>
        </div>
      </section>
      <section aria-label="Whether it can be read" className="sheet overflow-hidden">
        <table className="grid-table">
          <thead>
            <tr>
              <th scope="col">Pair</th>
              <th scope="col" className="num">
                Contrast
              </th>
              <th scope="col">WCAG 2.2 AA wants 4.5</th>
            </tr>
          </thead>
          <tbody>
            {pairs.map((x) => (
              <tr key={x.words}>
                <td>{x.words}</td>
                <td className="num">{x.ratio.toFixed(2)}</td>
                <td>{x.ratio >= 4.5 ? "reached" : "missed"}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
    </div>
  );
}
