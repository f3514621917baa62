/** The people who hold a role, by name, the first few of them; all of them are lines of the sightlines. */

import type { Someone } from "@/identity/viewers/crowd";
import { Link } from "@/ui/link";
import type { Holders } from "../holders";

const NAMED = 5;

export function HoldersOf({ of, at, role }: { of: Holders; at: string; role: string }) {
  if (of.given.length + of.through.length === 0) return <>Nobody holds it. </>;
  const more = (n: number) =>
    n > NAMED && (
      <>
        {" "}
        and{" "}
        <Link className="link-plain" href={`${at}/sightlines?${new URLSearchParams({ role })}`}>
          {n - NAMED} more
        </Link>
      </>
    );
  return (
    <>
      {of.given.length > 0 && (
        <>
          Held by <Names people={of.given} at={at} />
          {more(of.given.length)}.{" "}
        </>
      )}
      {of.through.length > 0 && (
        <>
          {of.given.length > 0 ? "Also comes to" : "Comes to"} <Names people={of.through} at={at} />
          {of.through.length > NAMED && ` and ${of.through.length - NAMED} more`} through a role that includes it.{" "}
        </>
      )}
    </>
  );
}

function Names({ people, at }: { people: readonly Someone[]; at: string }) {
  return people.slice(0, NAMED).map((s, i) => (
    <span key={`${s.personId} ${s.membershipId}`}>
      {i > 0 && ", "}
      <Link className="hover:underline" href={`${at}/people/${s.personId}`} title={s.company ?? undefined}>
        {s.name}
      </Link>
    </span>
  ));
}
