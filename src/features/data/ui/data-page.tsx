import { FileUp } from "lucide-react";
import { recentImports } from "@/data/imports/jobs";
import type { OfficePortal } from "@/identity/office-gate";
import { count } from "@/office/words";
import { FramedTable } from "@/ui/framed-table";
import { Link } from "@/ui/link";
import { tableRows } from "../queries";

interface Props {
  p: OfficePortal;
  params: { slug: string };
}

const WORDS = {
  received: "waits to be mapped",
  checking: "is being checked",
  checked: "is checked and waits to be brought in",
  failed: "failed",
} as const;

export async function DataPage({ p }: Props) {
  const rows = tableRows(p);
  const open = recentImports(p.file, p.owner).filter((j) => j.state !== "done" && j.state !== "given up");
  return (
    <div className="grid gap-6">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <div>
          <h1>Data</h1>
          <p className="quiet mt-1">What the agency keeps. Nobody on the clients' side sees any of it until a grant opens it.</p>
        </div>
        <Link href={`${p.at}/data/import`} className="btn btn-primary">
          <FileUp size={16} aria-hidden /> Import a CSV
        </Link>
      </div>
      {open.map((j) => (
        <p key={j.id} className="sheet border-l-4 border-l-accent px-4 py-3" role="status">
          The import of {j.fileName} {WORDS[j.state as keyof typeof WORDS]}.{" "}
          <Link className="link-plain" href={`${p.at}/data/import/${j.id}`}>
            Go on with it
          </Link>
        </p>
      ))}
      <FramedTable columns={[{ name: "Table" }, { name: "Records", num: true }, { name: "Fields", num: true }, { name: "Wall" }]}>
        {rows.map(({ table, records, wall, silence }) => (
          <tr key={table.id}>
            <td>
              <Link className="link-plain font-medium" href={`${p.at}/data/${table.slug}`}>
                {table.name}
              </Link>
            </td>
            <td className="num" data-label="Records">
              <Link href={`${p.at}/data/${table.slug}`}>{count(p, records)}</Link>
            </td>
            <td className="num" data-label="Fields">
              {table.fields.length}
            </td>
            <td className="max-w-none! whitespace-normal!">
              {wall} {silence && <span className="text-accent">Clients see nothing: {silence}.</span>}
            </td>
          </tr>
        ))}
      </FramedTable>
    </div>
  );
}
