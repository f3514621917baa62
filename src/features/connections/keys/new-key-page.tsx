import { companyList } from "@/data/people/directory";
import { personFacts } from "@/data/people/people";
import { mayHoldKey } from "@/identity/keys/keys";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { Link } from "@/ui/link";
import { addKey } from "./actions";
import { NewKey } from "./new-key";

interface Props {
  p: OfficePortal;
  /** "id membership" of the person whose page led here. */
  person: string | undefined;
}

export function NewKeyPage({ p, person }: Props) {
  const [personId = "", membership = ""] = (person ?? "").split(" ");
  const asked = personId ? personFacts(p.file, personId) : undefined;
  const { policy } = p.live;
  const roles = policy.rules.roles.filter(mayHoldKey).map((r) => ({ id: r.id, name: r.name, side: r.side, company: r.companyId ?? null }));
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <nav aria-label="Where you are" className="-mb-3 text-sm">
        <Link className="link-plain" href={`${p.at}/connections/keys`}>
          Keys
        </Link>
      </nav>
      <h1>New key</h1>
      <NewKey
        action={addKey.bind(null, p.slug)}
        keys={`${p.at}/connections/keys`}
        people={`${p.at}/people/named`}
        roles={roles}
        companies={companyList(p.file, p.owner)}
        tables={policy.schema.tables.map((t) => ({ id: t.id, name: t.name }))}
        person={asked ? { value: `${personId} ${membership}`, name: asked.name } : null}
      />
    </div>
  );
}
