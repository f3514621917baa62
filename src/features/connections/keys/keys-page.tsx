import { Plus } from "lucide-react";
import { formatMoment } from "@/core/text/format";
import { personFacts } from "@/data/people/people";
import { companyFacts } from "@/data/tables/company-facts";
import { hasEnded, type Key, keysOf, opensNothing } from "@/identity/keys/keys";
import { portalAddress } from "@/identity/requests/addresses";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { plural } from "@/office/words";
import { Empty } from "@/ui/empty";
import { FramedTable } from "@/ui/framed-table";
import { Link } from "@/ui/link";
import { ConnectionsHeading } from "../ui/heading";
import { KeyButtons } from "./key-buttons";

/** Keys with which programs use the portal's API: whose they are, how far they reach, and when they were last used. */
export function KeysPage({ p }: { p: OfficePortal }) {
  const keys = keysOf(p.file, p.owner);
  const now = Date.now();
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <ConnectionsHeading
        at={p.at}
        about={
          <>
            A key lets a program use the portal at <code className="break-all">{portalAddress(p.slug)}/api/v1</code>. It can do what its
            role or person can do, and no more.{" "}
            <a className="link-plain" href={`${portalAddress(p.slug)}/-/reference`}>
              What programs can ask
            </a>
          </>
        }
        make={
          <Link href={`${p.at}/connections/keys/new`} className="btn btn-primary">
            <Plus size={16} aria-hidden /> New key
          </Link>
        }
      />
      {keys.length === 0 ? (
        <div className="sheet">
          <Empty title="No keys yet">Make one for each program, so that you can end one without the others.</Empty>
        </div>
      ) : (
        <FramedTable
          columns={[
            { name: "Key" },
            { name: "Acts as" },
            { name: "Reaches" },
            { name: "Last used" },
            { name: "Ends" },
            { name: "What to do", unseen: true },
          ]}
        >
          {keys.map((k) => (
            <KeyRow key={k.id} p={p} k={k} now={now} />
          ))}
        </FramedTable>
      )}
    </div>
  );
}

function KeyRow({ p, k, now }: { p: OfficePortal; k: Key; now: number }) {
  const { locale, timeZone } = p.live.definition.portal;
  const moment = (at: number): string => formatMoment(new Date(at).toISOString(), locale, timeZone);
  const ended = hasEnded(k, now);
  const trouble = ended ? null : troubleOf(p, k);
  return (
    <tr>
      <td>
        <span className={ended ? "quiet" : "font-medium"}>{k.name}</span>
        <span className="quiet block font-mono text-sm">{k.begins}…</span>
        {trouble && <span className="block text-sm text-accent">{trouble}</span>}
      </td>
      <td data-label="Acts as">{holderWords(p, k)}</td>
      <td data-label="Reaches">
        <div>
          {k.within === null ? "All that is open to it" : plural(p, Object.keys(k.within).length, "table", "tables")}
          {k.tools && <span className="quiet block text-sm">by an assistant, too</span>}
          {k.networks.length > 0 && (
            <span className="quiet block text-sm">from {plural(p, k.networks.length, "address", "addresses")}</span>
          )}
        </div>
      </td>
      <td data-label="Last used">
        <div>
          {k.lastAt === null ? <span className="quiet">Never</span> : moment(k.lastAt)}
          {k.lastFrom !== null && <span className="quiet block text-sm">from {k.lastFrom}</span>}
        </div>
      </td>
      <td data-label="Ends">{ended ? "Has ended" : k.endsAt === null ? "Never" : moment(k.endsAt)}</td>
      <td className="acts">
        <KeyButtons portal={p.slug} id={k.id} name={k.name} ended={ended} byHand={k.endedAt !== null} />
      </td>
    </tr>
  );
}

function troubleOf(p: OfficePortal, k: Key): string | null {
  if (opensNothing(p.file, k, p.now))
    return k.of.kind === "role" ? "Opens nothing: its role or company is gone." : "Opens nothing: its person cannot sign in.";
  return k.leakedAt === null ? null : "It stood in an address. Make another and end this one.";
}

function holderWords(p: OfficePortal, { of }: Key) {
  if (of.kind === "person") {
    const name = personFacts(p.file, of.person)?.name;
    return name ? (
      <Link className="link-plain" href={`${p.at}/people/${of.person}`}>
        {name}
      </Link>
    ) : (
      "Somebody who is gone"
    );
  }
  const role = p.live.policy.role(of.role)?.name ?? "A role that is gone";
  const company = of.company === null ? null : (companyFacts(p.file, of.company)?.name ?? "a company that is gone");
  return company === null ? role : `${role} of ${company}`;
}
