/** What one version changed against the one before it. */
import { notFound } from "next/navigation";
import { definitionAt, versions } from "@/data/definition/versions";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { Empty } from "@/ui/empty";
import { Link } from "@/ui/link";
import { accessView, versionChanges } from "../queries";
import { ChangeLists } from "./change-lists";

/** One published version beside the one before it. */
export function VersionPage({ p, version }: { p: OfficePortal; version: string }) {
  const n = /^\d{1,9}$/.test(version) ? Number(version) : 0;
  const [after, before] = [definitionAt(p.file, p.owner, n), definitionAt(p.file, p.owner, n - 1)];
  const told = versions(p.file, p.owner).find((v) => v.version === n);
  if (!after || !told) notFound();
  const { locale, timeZone } = p.live.definition.portal;
  const when = new Intl.DateTimeFormat(locale, { dateStyle: "long", timeStyle: "short", timeZone });
  const changes = before && versionChanges(accessView(p), before, after);
  const nothing = changes && Object.values(changes).every((list) => list.length === 0);
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <Link className="link-plain text-sm" href={`${p.at}/publish`}>
        Publish
      </Link>
      <div>
        <h1>What version {n} changed</h1>
        <p className="quiet mt-1">
          Published {when.format(new Date(told.at))} by {told.by}.{told.note && ` “${told.note}”`}
        </p>
      </div>
      {!changes && (
        <div className="sheet">
          <Empty title="The first version">There is none before it to compare with.</Empty>
        </div>
      )}
      {nothing && (
        <div className="sheet">
          <Empty title="Nothing in access">No role, grant or wall differs from version {n - 1}.</Empty>
        </div>
      )}
      {changes && <ChangeLists changes={changes} />}
    </div>
  );
}
