import { BYTE_ORDER_MARK, csvLines } from "@/core/exchange/write-csv";
import { portalFile } from "@/data/file/open";
import { badRows } from "@/data/imports/check";
import { importJob } from "@/data/imports/jobs";
import { requestOffice } from "@/identity/request";

export async function GET(_: Request, { params }: { params: Promise<{ slug: string; id: string }> }): Promise<Response> {
  const { slug, id } = await params;
  const office = await requestOffice();
  const file = portalFile(slug);
  const job = office && file ? importJob(file, office.owner, id) : undefined;
  if (!job?.result) return new Response("Not found", { status: 404 });
  const rows = [...badRows(id)].map((x) => [x.line, x.column, x.reason, ...x.cells]);
  return new Response(BYTE_ORDER_MARK + csvLines([["Line", "Column", "What is wrong", ...job.analysis.header], ...rows]), {
    headers: {
      "content-type": "text/csv; charset=utf-8",
      "content-disposition": 'attachment; filename="rows-with-problems.csv"',
      "cache-control": "private, no-store",
    },
  });
}
