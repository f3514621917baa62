import type { OfficePortal } from "@/identity/requests/office-gate";
import { SOURCE_KINDS, SOURCES } from "@/services/sources";
import { Link } from "@/ui/link";
import { NewSystem } from "./new-system";

/** The form that connects another system. */
export function NewSystemPage({ p }: { p: OfficePortal }) {
  const list = `${p.at}/connections/systems`;
  const kinds = SOURCE_KINDS.map((kind) => {
    const { name, about, fields } = SOURCES[kind];
    return { kind, name, about, fields };
  });
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <nav aria-label="Where you are" className="-mb-3 text-sm">
        <Link className="link-plain" href={list}>
          Other systems
        </Link>
      </nav>
      <h1>Connect a system</h1>
      <NewSystem portal={p.slug} list={list} kinds={kinds} />
    </div>
  );
}
