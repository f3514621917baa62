import { NextResponse } from "next/server";
import { accessView, tallyOf } from "@/features/access/queries";
import { safeguardsOf } from "@/features/access/safeguards";
import { findingsOf } from "@/features/checks/findings";
import { impactOf } from "@/features/checks/impact";
import { type OfficePortal, officePortal } from "@/identity/requests/office-gate";

const WORK: Record<string, (p: OfficePortal) => Promise<{ readonly state: string }>> = {
  findings: findingsOf,
  impact: impactOf,
  safeguards: safeguardsOf,
  tally: (p) => tallyOf(p, accessView(p)),
};

/** How far some background work is; its result is for the page that shows it. */
export async function GET(_: Request, { params }: { params: Promise<{ slug: string; what: string }> }): Promise<NextResponse> {
  const { slug, what } = await params;
  const p = await officePortal(slug, "records");
  const ask = Object.hasOwn(WORK, what) ? WORK[what] : undefined;
  if (!ask) return NextResponse.json({ state: "failed" }, { status: 404 });
  const found = await ask(p);
  return NextResponse.json(found.state === "ready" ? { state: "ready" } : found, { headers: { "Cache-Control": "no-store" } });
}
