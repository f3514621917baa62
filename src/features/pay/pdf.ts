/** An invoice as a PDF (ISO 32000-1), with text that can be read and searched; and as CSV (RFC 4180), a row a line. */
import { join } from "node:path";
import PDFDocument from "pdfkit";
import { csvLines } from "@/core/exchange/write-csv";
import { countryName } from "@/core/text/countries";
import { formatDate, formatMoney, formatNumber, plainAmount } from "@/core/text/format";
import type { Say } from "@/core/words/words";
import type { Paper } from "@/data/billing/write-books";

/** It has the letters of many scripts: names of buyers stand as they are written. */
const FONTS = join(process.cwd(), "node_modules", "dejavu-fonts-ttf", "ttf");
const MARGIN = 56;
const WIDTH = 595.28 - 2 * MARGIN;
/** From the left, in points: where amounts end. */
const COLUMNS = [WIDTH * 0.66, WIDTH * 0.8, WIDTH] as const;

export function invoicePdf(paper: Paper, say: Say): Promise<Buffer> {
  const title = say(paper.kind === "invoice" ? "invoice.title" : "invoice.note", { number: paper.number });
  const doc = new PDFDocument({
    size: "A4",
    margin: MARGIN,
    lang: say.locale,
    info: { Title: title, Author: paper.seller },
    font: join(FONTS, "DejaVuSans.ttf"),
  });
  const parts: Buffer[] = [];
  const whole = new Promise<Buffer>((done, failed) => {
    doc.on("data", (p: Buffer) => parts.push(p));
    doc.on("end", () => done(Buffer.concat(parts)));
    doc.on("error", failed);
  });
  doc.registerFont("plain", join(FONTS, "DejaVuSans.ttf")).registerFont("bold", join(FONTS, "DejaVuSans-Bold.ttf"));
  head(doc, paper, title, say);
  table(doc, paper, say);
  doc.end();
  return whole;
}

type Doc = InstanceType<typeof PDFDocument>;

function head(doc: Doc, p: Paper, title: string, say: Say): void {
  const day = (d: string): string => formatDate(d, say.locale);
  doc.font("bold").fontSize(12).text(p.seller).moveDown(2);
  doc.fontSize(17).text(title).moveDown(0.6);
  doc.font("plain").fontSize(9.5);
  const facts = [
    say("invoice.issued", { day: day(p.issued) }),
    ...(p.of ? [say("invoice.of", { number: p.of })] : [say("invoice.due", { day: day(p.due) })]),
    ...(p.buyer.reference ? [say("invoice.reference", { reference: p.buyer.reference })] : []),
  ];
  for (const f of facts) doc.text(f);
  doc.moveDown(1.2).font("bold").text(p.buyer.name).font("plain");
  for (const line of [
    p.buyer.address,
    p.buyer.country && countryName(p.buyer.country, say.locale),
    p.buyer.taxNumber && say("invoice.tax-number", { number: p.buyer.taxNumber }),
  ])
    if (line) doc.text(line);
  doc.moveDown(2);
}

function table(doc: Doc, p: Paper, say: Say): void {
  const money = (n: number): string => formatMoney(n, p.currency, say.locale);
  row(doc, [say("buy.what"), say("buy.net"), p.tax.name, say("buy.total")], "plain");
  rule(doc);
  for (const l of p.reckoned.lines) row(doc, [l.text, money(l.net), money(l.tax), money(l.gross)], "plain");
  rule(doc);
  const rate = p.tax.name ? ` (${say("buy.tax", { name: p.tax.name, rate: `${formatNumber(p.tax.rate / 100, say.locale)} %` })})` : "";
  row(doc, [say("buy.total") + rate, money(p.reckoned.net), money(p.reckoned.tax), money(p.reckoned.total)], "bold");
  if (p.reckoned.credit > 0) {
    row(doc, [say("buy.credit"), "", "", `−${money(p.reckoned.credit)}`], "plain");
    row(doc, [say("invoice.to-pay"), "", "", money(p.reckoned.due)], "bold");
  }
}

const rule = (doc: Doc): void =>
  void doc
    .moveTo(MARGIN, doc.y)
    .lineTo(MARGIN + WIDTH, doc.y)
    .lineWidth(0.6)
    .stroke()
    .moveDown(0.4);

function row(doc: Doc, cells: readonly string[], font: "plain" | "bold"): void {
  doc.font(font).fontSize(9.5);
  const [text, ...amounts] = cells;
  const width = COLUMNS[0] - 84;
  const height = doc.heightOfString(text ?? "", { width });
  if (doc.y + height > doc.page.height - MARGIN) doc.addPage();
  const y = doc.y;
  doc.text(text ?? "", MARGIN, y, { width });
  for (const [i, a] of amounts.entries()) {
    const from = i === 0 ? COLUMNS[0] - 84 : COLUMNS[i - 1]!;
    if (a) doc.text(a, MARGIN + from, y, { width: COLUMNS[i]! - from, align: "right", lineBreak: false });
  }
  doc.x = MARGIN;
  doc.y = y + height + 5;
}

/** Amounts as plain decimals, so that a spreadsheet can sum them. */
export function invoiceCsv(p: Paper, say: Say): string {
  const plain = (n: number): string => plainAmount(n, p.currency);
  return csvLines([
    [
      say("billing.number"),
      say("billing.issued"),
      say("buy.billed"),
      say("buy.what"),
      say("buy.net"),
      say("buy.tax", { name: p.tax.name, rate: "" }).trim() || "Tax",
      say("buy.total"),
      "ISO 4217",
    ],
    ...p.reckoned.lines.map((l) => [p.number, p.issued, p.buyer.name, l.text, plain(l.net), plain(l.tax), plain(l.gross), p.currency]),
  ]);
}
