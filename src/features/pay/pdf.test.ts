/** The PDF of an invoice, read by an independent reader (pdfjs-dist); its CSV by an independent parser (papaparse, RFC 4180). */
import Papa from "papaparse";
import { getDocument } from "pdfjs-dist/legacy/build/pdf.mjs";
import { describe, expect, it } from "vitest";
import { reckon } from "@/core/billing/invoice";
import { makeSay } from "@/core/words/words";
import type { Paper } from "@/data/billing/write-books";
import { invoiceCsv, invoicePdf } from "./pdf";

const paper = (more: Partial<Paper> = {}): Paper => ({
  number: "FW-2026-0007",
  kind: "invoice",
  issued: "2026-06-15",
  due: "2026-06-22",
  currency: "GBP",
  buyer: {
    name: "Žluťásek, Αθηνά & Жук",
    email: "a@b.example",
    address: "1 Causeway Road",
    country: "IE",
    taxNumber: "IE1",
    reference: "PO 7",
  },
  seller: "Fernhill Wayfinding",
  tax: { mode: "exclusive", name: "VAT", rate: 2_000 },
  reckoned: reckon(
    [
      { text: "Standard, 15 Jun 2026 to 14 Jul 2026", amount: 18_000 },
      { text: 'A "quoted", long, line, with commas', amount: 999 },
    ],
    "exclusive",
    { rate: 2_000 },
    5_000,
  ),
  of: null,
  ...more,
});

async function pages(pdf: Buffer): Promise<{ text: string[]; title: unknown }> {
  const doc = await getDocument({ data: new Uint8Array(pdf), verbosity: 0 }).promise;
  const text: string[] = [];
  for (let n = 1; n <= doc.numPages; n++) {
    const { items } = await (await doc.getPage(n)).getTextContent();
    text.push(items.map((i) => ("str" in i ? i.str : "")).join(" "));
  }
  const { info } = await doc.getMetadata();
  return { text, title: (info as { Title?: string }).Title };
}

describe("a PDF", () => {
  it("has number, buyer in their own letters, lines, tax, credit and what is to be paid", async () => {
    const read = await pages(await invoicePdf(paper(), makeSay("en-GB")));
    expect(read.title).toBe("Invoice FW-2026-0007");
    expect(read.text).toHaveLength(1);
    for (const words of [
      "Žluťásek, Αθηνά & Жук",
      "Ireland",
      "15 Jun 2026",
      "£180.00",
      "£9.99",
      "£2.00",
      "£189.99",
      "£38.00",
      "£227.99",
      "−£50.00",
      "£177.99",
      "VAT 20 %",
      "PO 7",
    ])
      expect([words, read.text[0]!.includes(words)]).toEqual([words, true]);
  });
  it("goes on to a second page where the lines are many, and leaves none out", async () => {
    const lines = Array.from({ length: 70 }, (_, i) => ({ text: `Line ${i + 1}.`, amount: 100 + i }));
    const read = await pages(await invoicePdf(paper({ reckoned: reckon(lines, "none", null) }), makeSay("en-GB")));
    expect(read.text.length).toBeGreaterThan(1);
    for (const l of lines) expect(read.text.join(" ")).toContain(l.text);
  });
  it.each([
    ["JPY", 18_000, "¥18,000"],
    ["KWD", 18_000, "KWD 18.000"],
  ])("in %s has as many digits as ISO 4217 says", async (currency, amount, words) => {
    const read = await pages(
      await invoicePdf(paper({ currency, reckoned: reckon([{ text: "x", amount }], "none", null) }), makeSay("en-GB")),
    );
    expect(read.text[0]!.replaceAll("\u00a0", " ")).toContain(words.replace("¥", "JP¥").slice(words.startsWith("¥") ? 1 : 0));
  });
});

it("a CSV has a row a line, with plain decimals that sum to the total", () => {
  const { data, errors } = Papa.parse<string[]>(invoiceCsv(paper(), makeSay("en-GB")), { skipEmptyLines: true });
  expect(errors).toEqual([]);
  const [, ...rows] = data;
  expect(rows.map((r) => r[3])).toEqual(["Standard, 15 Jun 2026 to 14 Jul 2026", 'A "quoted", long, line, with commas']);
  expect(rows.reduce((n, r) => n + Math.round(Number(r[6]) * 100), 0)).toBe(22_799);
});
