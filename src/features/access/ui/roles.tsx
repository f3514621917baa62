import { Plus } from "lucide-react";
import type { Role } from "@/core/access/rules";
import type { AccessView } from "@/office/checking";
import { Link } from "@/ui/link";
import type { Holders } from "../holders";
import { HoldersOf } from "./holders";
import { RoleButtons } from "./role-buttons";

const SIDES = [
  ["client", "Client side", "Held in a company, inside its wall."],
  ["agency", "Agency side", "Held by the agency's own people."],
  ["visitor", "Visitors", "Nobody holds these; they count for whoever is not signed in."],
] as const;

/** The roles by side: who holds each, what it includes, how many grants name it. */
export function Roles({ v, at, portal, holders }: { v: AccessView; at: string; portal: string; holders: (role: Role) => Holders }) {
  const names = (ids: readonly string[]): string => ids.map((id) => v.policy.role(id)?.name ?? id).join(", ");
  return (
    <section aria-labelledby="roles" className="grid gap-4">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h2 id="roles">Roles</h2>
        <Link className="btn btn-sm" href={`${at}/access/roles/new`}>
          <Plus size={14} aria-hidden /> Add a role
        </Link>
      </div>
      {SIDES.map(([side, title, about]) => {
        const roles = v.definition.roles.filter((r) => r.side === side);
        return roles.length === 0 ? null : (
          <section key={side} aria-label={title} className="sheet">
            <div className="border-b border-base-300 px-4 py-2.5">
              <h3 className="font-semibold">
                {title} <span className="quiet font-normal">{about}</span>
              </h3>
            </div>
            <ul className="divide-y divide-base-300/60">
              {roles.map((r) => {
                const grants = v.definition.grants.filter((g) => g.roles.includes(r.id)).length;
                return (
                  <li key={r.id} className="flex flex-wrap items-start justify-between gap-x-4 gap-y-1 px-4 py-2.5">
                    <div className="min-w-0 flex-1 basis-80">
                      <p>
                        <strong className="font-semibold">{r.name}</strong> {r.about}
                      </p>
                      <p className="quiet text-sm">
                        {side !== "visitor" && <HoldersOf of={holders(r)} at={at} role={r.name} />}
                        {[
                          `${grants} ${grants === 1 ? "grant names" : "grants name"} it`,
                          r.includes.length > 0 ? `has all that ${names(r.includes)} has` : "",
                          r.companyId ? `counts only in ${v.names.company(r.companyId) ?? "a company that is gone"}` : "",
                        ]
                          .filter(Boolean)
                          .join("; ")
                          .replace(/^./, (c) => c.toUpperCase())}
                        .
                      </p>
                    </div>
                    <div className="flex gap-1">
                      <Link className="btn btn-ghost btn-sm" href={`${at}/access/roles/${r.id}`}>
                        Change
                      </Link>
                      <RoleButtons portal={portal} id={r.id} name={r.name} revision={v.revision} />
                    </div>
                  </li>
                );
              })}
            </ul>
          </section>
        );
      })}
    </section>
  );
}
