import { notFound } from "next/navigation";
import { companiesWith } from "@/data/records/moving";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { Empty } from "@/ui/empty";
import { Link } from "@/ui/link";
import { ownerRelation } from "../moving";
import { Move } from "./move";

/** Where records of one company are put under another. */
export function MovePage({ p, table: asked }: { p: OfficePortal; table: string }) {
  const { schema } = p.live.policy;
  const table = schema.tableAt(asked);
  if (!table) notFound();
  const { locale } = p.live.definition.portal;
  const wall = p.live.policy.wall(table.id);
  const through = wall.kind === "owned" && wall.path.length > 1 ? schema.field(wall.path[0]!) : null;
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <nav aria-label="Where you are" className="-mb-3 text-sm">
        <Link className="link-plain" href={`${p.at}/data/${table.slug}`}>
          {table.name}
        </Link>
      </nav>
      <h1>Move {table.name.toLowerCase()} to another company</h1>
      {ownerRelation(p.live.policy, table) ? (
        <Move
          portal={p.slug}
          table={table.id}
          things={table.name.toLowerCase()}
          thing={table.singular.toLowerCase()}
          companies={companiesWith(p.file, p.owner, table)}
          locale={locale}
        />
      ) : (
        <Empty title="They belong to no company by themselves">
          {through?.options.target ? (
            <>
              {table.name} belong to the company of their {through.name.toLowerCase()}.{" "}
              <Link className="link-plain" href={`${p.at}/data/${schema.table(through.options.target).slug}/move`}>
                Move {schema.table(through.options.target).name.toLowerCase()}
              </Link>{" "}
              and they go along.
            </>
          ) : (
            `${table.name} are not owned by companies.`
          )}
        </Empty>
      )}
    </div>
  );
}
