import type { OfficePortal } from "@/identity/requests/office-gate";
import { Link } from "@/ui/link";
import { makeTable } from "../../shaping";
import { NewTableForm } from "./new-table-form";

/** The form for a new table. */
export function NewTablePage({ p }: { p: OfficePortal }) {
  const tables = p.live.policy.schema.tables.map((t) => ({ id: t.id, name: t.name }));
  return (
    <div className="grid max-w-2xl gap-5">
      <nav aria-label="Where you are" className="-mb-3 text-sm">
        <Link className="link-plain" href={`${p.at}/data`}>
          Data
        </Link>
      </nav>
      <h1>A new table</h1>
      <p className="quiet">
        It begins with a name and nothing else. From a file it comes with all its columns:{" "}
        <Link className="link-plain" href={`${p.at}/data/import`}>
          bring a table in
        </Link>
        .
      </p>
      <NewTableForm action={makeTable.bind(null, p.slug)} tables={tables} />
    </div>
  );
}
