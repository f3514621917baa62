import { NextResponse } from "next/server";
import { sightlines } from "@/features/checks/sightlines";
import { officePortal } from "@/identity/requests/office-gate";

/** The matrix when it is ready, else how far the work is. Never kept by anything on the way. */
export async function GET(request: Request, { params }: { params: Promise<{ slug: string }> }): Promise<NextResponse> {
  const p = await officePortal((await params).slug, "records");
  const which = new URL(request.url).searchParams.get("of") === "draft" ? "draft" : "live";
  return NextResponse.json(sightlines(p, which), { headers: { "Cache-Control": "no-store" } });
}
