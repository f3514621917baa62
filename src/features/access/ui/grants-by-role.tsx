import { rolePermissions } from "@/core/review/held-roles";
import type { AccessView } from "@/office/checking";
import { Link } from "@/ui/link";
import { changeWords, fieldWords, grantLine } from "../queries";

/** The other reading of the same grants: what each role has, its own and what comes with the roles it includes. */
export function GrantsByRole({ v, at, opens }: { v: AccessView; at: string; opens: (id: string) => string }) {
  return (
    <>
      {v.definition.roles.map((r) => {
        const permissions = rolePermissions(v.policy, r.id);
        return (
          <section key={r.id} className="sheet" aria-label={r.name}>
            <div className="border-b border-base-300 px-4 py-3">
              <h3 className="font-semibold">
                {r.name} <span className="tag ml-1 font-normal">{r.side}</span>
              </h3>
            </div>
            {permissions.length === 0 ? (
              <p className="quiet px-4 py-3">No grant: {r.name} opens nothing.</p>
            ) : (
              <ul className="divide-y divide-base-300/60">
                {permissions.map(({ grant: g, through }) => (
                  <li key={g.id} className="flex flex-wrap items-start justify-between gap-x-4 gap-y-1 px-4 py-2.5">
                    <div className="min-w-0 flex-1 basis-80">
                      <p>{grantLine(v, g)}</p>
                      <p className="quiet text-sm">
                        {opens(g.id)} {fieldWords(v, g)} {changeWords(v, g)}
                        {through && ` Comes with ${v.policy.role(through)?.name}.`}
                      </p>
                    </div>
                    <Link className="btn btn-ghost btn-sm" href={`${at}/access/grants/${g.id}`}>
                      Change
                    </Link>
                  </li>
                ))}
              </ul>
            )}
          </section>
        );
      })}
    </>
  );
}
