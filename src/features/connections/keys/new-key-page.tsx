import { personFacts } from "@/data/people/people";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { Link } from "@/ui/link";
import { accessChoices } from "../ui/choices";
import { addKey } from "./actions";
import { NewKey } from "./new-key";

interface Props {
  p: OfficePortal;
  /** "id membership" of the person whose page led here. */
  person: string | undefined;
}

/** The form for a new key of the API, for a role or for one person. */
export function NewKeyPage({ p, person }: Props) {
  const [personId = "", membership = ""] = (person ?? "").split(" ");
  const asked = personId ? personFacts(p.file, personId) : undefined;
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
        {...accessChoices(p)}
        person={asked ? { value: `${personId} ${membership}`, name: asked.name } : null}
      />
    </div>
  );
}
