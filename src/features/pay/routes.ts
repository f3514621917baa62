/** What is no page: events of the provider, and invoices as files. */

import { config } from "@/config";
import { BYTE_ORDER_MARK } from "@/core/exchange/write-csv";
import { hear } from "@/data/billing/heard";
import { orderFacts } from "@/data/billing/orders";
import { timeIn } from "@/data/file/clock";
import { portalFile } from "@/data/file/open";
import { whenFree } from "@/data/file/when-free";
import { requestPortal } from "@/identity/requests/request";
import { payAccount } from "@/orders/account";
import { orderOf } from "@/orders/links";
import { providerOf } from "@/services/payments";
import { sayHere } from "./here";
import { invoiceHere } from "./invoice";
import { invoiceCsv, invoicePdf } from "./pdf";
import { handle } from "./run";

const MOST_BYTES = 64 * 1024;
const said = (status: number, words: string): Response =>
  new Response(`${words}\n`, { status, headers: { "content-type": "text/plain; charset=utf-8", "cache-control": "no-store" } });

/**
 * An event of the provider: a POST from no page of ours, bound by its signature and so not asked for its origin (docs/design: settled 21). It is
 * answered when it stands in the file for good; the same one again is answered alike and does nothing.
 */
export async function takeEvents(request: Request, slug: string): Promise<Response> {
  const file = portalFile(slug);
  const provider = providerOf(config());
  if (!file || !provider) return said(404, "Not found");
  file.meta.look();
  const account = payAccount(file);
  if (!account || Number(request.headers.get("content-length") ?? 0) > MOST_BYTES) return said(404, "Not found");
  const body = await request.text();
  const headers = Object.fromEntries(
    ["webhook-id", "webhook-timestamp", "webhook-signature"].map((k) => [k, request.headers.get(k) ?? ""]),
  );
  const event = provider.event(account.hook, headers, body);
  if (!event) return said(401, "This is not signed by the provider, or too old.");
  await whenFree(file);
  const now = timeIn(file, Date.now());
  const fresh = await hear(file, { id: event.id, type: event.type, body: JSON.stringify(event), at: now });
  // Written down already, it is not lost if this fails: the next run takes it up.
  if (fresh) handle(file, event.id, JSON.stringify(event), now);
  return new Response(null, { status: 204 });
}

/** An invoice as PDF or CSV. 404 for whoever does not see it. */
export async function invoiceFile(slug: string, id: string, as: "pdf" | "csv"): Promise<Response> {
  const r = await requestPortal(slug);
  const seen = r && invoiceHere(r, id);
  if (!r || !seen) return said(404, "Not found");
  const say = sayHere(r);
  if (as === "pdf") return asPdf(seen.paper.number, new Uint8Array(await invoicePdf(seen.paper, say)));
  return new Response(BYTE_ORDER_MARK + invoiceCsv(seen.paper, say), {
    headers: {
      "content-type": "text/csv; charset=utf-8",
      "content-disposition": `attachment; filename="${seen.paper.number.replace(/[^\w-]+/g, "-")}.csv"`,
      "cache-control": "private, no-store",
    },
  });
}

/** To whoever holds the link of an order's mail. */
export async function orderFile(slug: string, token: string): Promise<Response> {
  const r = await requestPortal(slug);
  const id = r && orderOf(r.file, token);
  const paper = id ? orderFacts(r.file, id)?.paper : null;
  if (!r || !paper) return said(404, "Not found");
  return asPdf(paper.number, new Uint8Array(await invoicePdf(paper, sayHere(r))));
}

const asPdf = (number: string, body: Uint8Array<ArrayBuffer>): Response =>
  new Response(body, {
    headers: {
      "content-type": "application/pdf",
      "content-disposition": `attachment; filename="${number.replace(/[^\w-]+/g, "-")}.pdf"`,
      "cache-control": "private, no-store",
    },
  });
