"use client";
import type { Named, RoleChoice } from "./choices";

interface Props {
  roles: readonly RoleChoice[];
  companies: readonly Named[];
  role: string;
  company: string;
  onChange: (role: string, company: string) => void;
  /** Id of the sentence that says what is wrong. */
  describedBy: string;
}

const SIDES = [
  ["agency", "Roles of the agency"],
  ["client", "Roles of clients"],
] as const;

/** A role, and for one of clients the company. */
export function RoleAndCompany({ roles, companies, role, company, onChange, describedBy }: Props) {
  const picked = roles.find((r) => r.id === role);
  return (
    <div className="grid gap-4 sm:grid-cols-2">
      <select
        name="role"
        aria-label="Role"
        className="select w-full"
        value={role}
        onChange={(e) => onChange(e.target.value, roles.find((r) => r.id === e.target.value)?.company ?? "")}
        aria-describedby={describedBy}
      >
        <option value="">Choose a role…</option>
        {SIDES.map(([side, words]) => (
          <optgroup key={side} label={words}>
            {roles
              .filter((r) => r.side === side)
              .map((r) => (
                <option key={r.id} value={r.id}>
                  {r.name}
                </option>
              ))}
          </optgroup>
        ))}
      </select>
      {picked?.side === "client" && (
        <select
          name="company"
          aria-label="Company"
          className="select w-full"
          value={company}
          onChange={(e) => onChange(role, e.target.value)}
        >
          <option value="">Of which company?</option>
          {companies
            .filter((c) => picked.company === null || c.id === picked.company)
            .map((c) => (
              <option key={c.id} value={c.id}>
                {c.name}
              </option>
            ))}
        </select>
      )}
    </div>
  );
}
