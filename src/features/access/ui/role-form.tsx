"use client";
import { useRouter } from "next/navigation";
import { type Dispatch, type SetStateAction, useState, useTransition } from "react";
import { answered } from "@/ui/answered";
import { type RoleAnswer, type RoleInput, saveRole } from "../roles";

interface Props {
  portal: string;
  back: string;
  role: RoleInput;
  others: { id: string; name: string; side: string }[];
  companies: { id: string; name: string }[];
}

const SIDES: [RoleInput["side"], string][] = [
  ["client", "Client: held in a company, inside its wall"],
  ["agency", "Agency: held by the agency's own people"],
  ["visitor", "Visitors: whoever is not signed in"],
];

export function RoleForm({ portal, back, role, others, companies }: Props) {
  const router = useRouter();
  const [r, setR] = useState(role);
  const [errors, setErrors] = useState<Extract<RoleAnswer, { ok: false }>["errors"]>({});
  const [busy, start] = useTransition();
  const save = () =>
    start(async () => {
      const answer = await answered(saveRole(portal, r));
      if (!answer) return;
      if (answer.ok) router.push(back);
      else setErrors(answer.errors);
    });
  const includable = others.filter((o) => o.side === r.side);
  return (
    <form
      className="sheet grid max-w-2xl gap-5 p-6"
      onSubmit={(e) => {
        e.preventDefault();
        save();
      }}
      noValidate
    >
      {errors.form && (
        <div role="alert" className="alert alert-error">
          {errors.form}
        </div>
      )}
      <div>
        <label className="field-label" htmlFor="name">
          Name
        </label>
        <input
          id="name"
          className="input w-full"
          value={r.name}
          onChange={(e) => setR({ ...r, name: e.target.value })}
          aria-invalid={errors.name ? true : undefined}
          aria-describedby="name-error"
        />
        <p id="name-error" className="field-error">
          {errors.name}
        </p>
      </div>
      <div>
        <label className="field-label" htmlFor="about">
          What it is for <span className="quiet font-normal">(optional)</span>
        </label>
        <input
          id="about"
          className="input w-full"
          value={r.about}
          onChange={(e) => setR({ ...r, about: e.target.value })}
          aria-describedby="about-error"
        />
        <p id="about-error" className="field-error">
          {errors.about}
        </p>
      </div>
      <SideChoice r={r} setR={setR} />
      <IncludedRoles includable={includable} r={r} setR={setR} errors={errors} />
      {r.side === "client" && <CountsIn r={r} setR={setR} companies={companies} />}
      <div className="flex items-center gap-4">
        <button type="submit" className="btn btn-primary" disabled={busy}>
          Keep in the draft
        </button>
        <a className="link-plain" href={back}>
          Cancel
        </a>
      </div>
    </form>
  );
}

/** On which side the role is. */
function SideChoice({ r, setR }: { r: RoleInput; setR: Dispatch<SetStateAction<RoleInput>> }) {
  return (
    <fieldset disabled={r.id !== null}>
      <legend className="field-label">Side</legend>
      {SIDES.map(([side, words]) => (
        <label key={side} className="flex items-center gap-2 py-0.5">
          <input
            type="radio"
            name="side"
            className="radio radio-sm"
            checked={r.side === side}
            onChange={() => setR({ ...r, side, includes: [], companyId: null })}
          />
          {words}
        </label>
      ))}
      {r.id !== null && <p className="quiet mt-1 text-sm">People hold it on this side, so it stays there. Copy the role instead.</p>}
    </fieldset>
  );
}

interface IncludedRolesProps {
  readonly includable: { id: string; name: string; side: string }[];
  readonly r: RoleInput;
  readonly setR: Dispatch<SetStateAction<RoleInput>>;
  readonly errors: Partial<Record<"name" | "includes" | "about" | "form", string>>;
}

/** Roles whose rights it has, too. */
function IncludedRoles({ includable, r, setR, errors }: IncludedRolesProps) {
  return (
    <fieldset aria-describedby="includes-error">
      <legend className="field-label">Has all that these have</legend>
      {includable.length === 0 && <p className="quiet">There is no other role on this side.</p>}
      <div className="flex flex-wrap gap-x-5 gap-y-1.5">
        {includable.map((o) => (
          <label key={o.id} className="flex items-center gap-2">
            <input
              type="checkbox"
              className="checkbox checkbox-sm"
              checked={r.includes.includes(o.id)}
              onChange={() =>
                setR({ ...r, includes: r.includes.includes(o.id) ? r.includes.filter((x) => x !== o.id) : [...r.includes, o.id] })
              }
            />
            {o.name}
          </label>
        ))}
      </div>
      <p id="includes-error" className="field-error">
        {errors.includes}
      </p>
    </fieldset>
  );
}

interface CountsInProps {
  readonly r: RoleInput;
  readonly setR: Dispatch<SetStateAction<RoleInput>>;
  readonly companies: { id: string; name: string }[];
}

/** The company that a role of one company counts in. */
function CountsIn({ r, setR, companies }: CountsInProps) {
  return (
    <div>
      <label className="field-label" htmlFor="company">
        Counts in
      </label>
      <select
        id="company"
        className="select w-full"
        value={r.companyId ?? ""}
        onChange={(e) => setR({ ...r, companyId: e.target.value || null })}
      >
        <option value="">every company</option>
        {companies.map((c) => (
          <option key={c.id} value={c.id}>
            {c.name} alone
          </option>
        ))}
      </select>
    </div>
  );
}
