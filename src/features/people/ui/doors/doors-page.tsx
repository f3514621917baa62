import { holdsTelephone } from "@/core/schema/fields/natures";
import { mailCodeDoor, smsCodeDoor } from "@/identity/doors/code";
import { linkDoor } from "@/identity/doors/link";
import { outsideDoor } from "@/identity/doors/outside";
import { passkeyDoor } from "@/identity/doors/passkey";
import { passwordDoor } from "@/identity/doors/password";
import { doorSettings } from "@/identity/doors/settings";
import { standingDoor } from "@/identity/doors/standing";
import { smsVia } from "@/identity/requests/addresses";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { Link } from "@/ui/link";
import { changeDoors } from "../../doors";
import { DoorsForm } from "./doors-form";
import { ProvidersPart } from "./providers-part";

/** How people come in, and of whom more is asked. */
export function DoorsPage({ p }: { p: OfficePortal }) {
  const doors = [passwordDoor, linkDoor, mailCodeDoor, smsCodeDoor, passkeyDoor, outsideDoor, standingDoor].map(({ id, name, about }) => ({
    id,
    name,
    about,
  }));
  const { people } = p.live.policy.schema;
  const numbers = people.fields.filter((f) => holdsTelephone(f)).map((f) => ({ id: f.id, name: f.name }));
  const settings = doorSettings(p.file);
  // Who may write a number here may come in as whoever's it is.
  const writers = numbers.flatMap((n) =>
    p.live.policy.rules.grants
      .filter((g) => g.table === people.id && g.changes.includes(n.id))
      .flatMap((g) => g.roles.map((r) => `${p.live.policy.role(r)?.name ?? r} (${n.name})`)),
  );
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <nav aria-label="Where you are" className="-mb-3 text-sm">
        <Link className="link-plain" href={`${p.at}/people`}>
          People and companies
        </Link>
      </nav>
      <div>
        <h1>Doors</h1>
        <p className="quiet mt-1 max-w-prose">
          How people come in, and of whom more is asked. An invitation opens the first time, whatever stands here.
        </p>
      </div>
      <DoorsForm
        action={changeDoors.bind(null, p.slug)}
        settings={settings}
        doors={doors}
        numbers={numbers}
        smsTold={smsVia()}
        writers={[...new Set(writers)]}
        roles={p.live.definition.roles.filter((r) => r.side !== "visitor").map((r) => ({ id: r.id, name: r.name }))}
      />
      <ProvidersPart p={p} />
    </div>
  );
}
