import { NextResponse } from "next/server";
import { peopleNamed } from "@/data/people/directory";
import { officePortal } from "@/identity/office-gate";

/** People by any part of name, company, role or e-mail, for choosing one of them; the first few. */
export async function GET(request: Request, { params }: { params: Promise<{ slug: string }> }): Promise<NextResponse> {
  const p = await officePortal((await params).slug);
  const words = new URL(request.url).searchParams.get("q") ?? "";
  return NextResponse.json(peopleNamed(p.file, p.owner, words.slice(0, 100)), { headers: { "Cache-Control": "no-store" } });
}
