import { NextResponse } from "next/server";
import { peopleBy } from "@/features/people/choices";
import { officePortal } from "@/identity/requests/office-gate";

/** For choosing one of them. */
export async function GET(request: Request, { params }: { params: Promise<{ slug: string }> }): Promise<NextResponse> {
  const p = await officePortal((await params).slug, "people");
  const words = new URL(request.url).searchParams.get("q") ?? "";
  return NextResponse.json(peopleBy(p, words), { headers: { "Cache-Control": "no-store" } });
}
