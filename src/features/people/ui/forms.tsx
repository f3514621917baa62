"use client";
import { useState } from "react";
import type { FormState } from "@/ui/forms/form";
import { useSafeForm } from "@/ui/forms/safe-form";
import { TextBox } from "@/ui/forms/text-box";

type Action = (before: FormState, data: FormData) => Promise<FormState>;
export interface RoleChoice {
  id: string;
  name: string;
  side: "agency" | "client";
  companyId: string | null;
}
/** Roles that somebody holds already, by the company's id, or "agency". */
export type Held = Readonly<Record<string, readonly string[]>>;
export interface CompanyChoice {
  id: string;
  name: string;
}

function Said({ state }: { state: FormState }) {
  return state.message || state.done ? (
    <p role={state.message ? "alert" : "status"} className={`alert ${state.message ? "alert-error" : "alert-success alert-soft"}`}>
      {state.message ?? state.done}
    </p>
  ) : null;
}

/** A company and the roles that count in it; roles of the other side are not offered. */
export function CompanyAndRoles({
  companies,
  roles,
  agency,
  least,
  state,
  held = {},
}: {
  companies: CompanyChoice[];
  roles: RoleChoice[];
  agency: string;
  least: readonly string[];
  state: FormState;
  held?: Held;
}) {
  const [company, setCompany] = useState(String(state.values.company ?? ""));
  const [ticked, setTicked] = useState<readonly string[]>(([] as string[]).concat(state.values.roles ?? []));
  // Until somebody chose otherwise, it is the role that allows least.
  const [touched, setTouched] = useState(ticked.length > 0);
  const offered = roles.filter(
    (r) => (company === "agency" ? r.side === "agency" : r.side === "client") && (!r.companyId || r.companyId === company),
  );
  const choose = (next: string): void => {
    setCompany(next);
    // What they hold there is what a change begins from; nothing is dropped that nobody unticked.
    if (held[next]) setTicked(held[next]);
    else if (!touched) setTicked(least);
  };
  const tick = (id: string, on: boolean): void => {
    setTouched(true);
    setTicked((all) => (on ? [...all, id] : all.filter((x) => x !== id)));
  };
  return (
    <>
      <div>
        <label className="field-label" htmlFor="company">
          Company
        </label>
        <CompanySelect company={company} choose={choose} companies={companies} agency={agency} />
        <p id="company-error" className="field-error">
          {state.errors.company}
        </p>
      </div>
      <fieldset>
        <legend className="field-label">Roles</legend>
        {company === "" && <p className="quiet text-sm">Choose the company first.</p>}
        {held[company] && <p className="quiet mb-2 text-sm">Ticked are the roles they hold there now.</p>}
        <div className="flex flex-wrap gap-x-5 gap-y-2">
          {company !== "" &&
            offered.map((r) => (
              <label key={r.id} className="flex items-center gap-2">
                <input
                  type="checkbox"
                  className="checkbox checkbox-sm"
                  name="roles"
                  value={r.id}
                  checked={ticked.includes(r.id)}
                  onChange={(e) => tick(r.id, e.target.checked)}
                />
                {r.name}
              </label>
            ))}
        </div>
        <p className="field-error">{state.errors.roles}</p>
      </fieldset>
    </>
  );
}

/** The form for a new company. */
export function AddCompany({ action }: { action: Action }) {
  const { state, pending, form } = useSafeForm(action);
  return (
    <form {...form} className="grid gap-4">
      <Said state={state} />
      <TextBox name="name" label="Name of the company" state={state} />
      <button type="submit" className="btn btn-primary justify-self-start" disabled={pending}>
        Add the company
      </button>
    </form>
  );
}

function ByHand({ state }: { state: FormState }) {
  return (
    <>
      <TextBox name="password" label="Password" state={state} type="password" autoComplete="new-password" />
      <TextBox name="again" label="The same once more" state={state} type="password" autoComplete="new-password" />
      <p className="quiet text-sm">At least 15 characters. They choose another at the first sign-in; you tell them this one yourself.</p>
    </>
  );
}

export function PasswordByHand({ action }: { action: Action }) {
  const { state, pending, form } = useSafeForm(action);
  return (
    <form {...form} className="grid max-w-md gap-4">
      <Said state={state} />
      <ByHand state={state} />
      <button type="submit" className="btn justify-self-start" disabled={pending}>
        Set this password
      </button>
    </form>
  );
}

/** A form of one line, with a button of its own. */
export function OneLine({
  action,
  name,
  label,
  value,
  hint,
  submit,
  type,
}: {
  action: Action;
  name: string;
  label: string;
  value: string;
  hint: string;
  submit: string;
  type?: "date";
}) {
  const { state, pending, form } = useSafeForm(action);
  const at = `${name}-hint ${name}-error`;
  return (
    <form {...form} className="grid gap-1">
      <label className="field-label mb-0!" htmlFor={name}>
        {label}
      </label>
      <div className="flex flex-wrap items-center gap-3">
        <input
          key={state.turn}
          id={name}
          name={name}
          type={type ?? "text"}
          className="input w-56"
          defaultValue={String(state.values[name] ?? value)}
          aria-invalid={state.errors[name] ? true : undefined}
          aria-describedby={at}
        />
        <button type="submit" className="btn btn-sm" disabled={pending}>
          {submit}
        </button>
        <span role="status" className="text-sm">
          {state.done}
        </span>
      </div>
      <p id={`${name}-hint`} className="quiet text-sm">
        {hint}
      </p>
      <p id={`${name}-error`} className="field-error">
        {state.errors[name] ?? state.message}
      </p>
    </form>
  );
}

interface PersonProps {
  /** People may have a name to sign in by. */
  names?: boolean;
  action: Action;
  companies: CompanyChoice[];
  roles: RoleChoice[];
  agency: string;
  least: readonly string[];
}

/** The form for a new person, with the company and roles they begin with. */
export function AddPerson({ action, companies, roles, agency, least, names = false }: PersonProps) {
  const { state, pending, form } = useSafeForm(action);
  return (
    <form {...form} className="grid gap-4">
      <Said state={state} />
      <TextBox name="name" label="Name" state={state} />
      <TextBox name="email" label={names ? "E-mail address, if they have one" : "E-mail address"} state={state} type="email" />
      {names && <TextBox name="signInName" label="Sign-in name, if they have no address" state={state} autoComplete="off" />}
      <CompanyAndRoles key={state.turn} companies={companies} roles={roles} agency={agency} least={least} state={state} />
      <details open={Boolean(state.errors.password ?? state.errors.again)}>
        <summary className="link-plain cursor-pointer">Set a first password for them</summary>
        <div className="mt-3 grid gap-4">
          <ByHand state={state} />
        </div>
      </details>
      <button type="submit" className="btn btn-primary justify-self-start" disabled={pending}>
        Add the person
      </button>
    </form>
  );
}

export function AddMembership({ action, companies, roles, agency, least, held }: PersonProps & { held: Held }) {
  const { state, pending, form } = useSafeForm(action);
  return (
    <form {...form} className="grid gap-4">
      <Said state={state} />
      <CompanyAndRoles key={state.turn} companies={companies} roles={roles} agency={agency} least={least} state={state} held={held} />
      <button type="submit" className="btn justify-self-start" disabled={pending}>
        Save this membership
      </button>
    </form>
  );
}

interface CompanySelectProps {
  readonly company: string;
  readonly choose: (next: string) => void;
  readonly companies: CompanyChoice[];
  readonly agency: string;
}

/** Whose company the person joins, or the agency. */
function CompanySelect({ company, choose, companies, agency }: CompanySelectProps) {
  return (
    <select
      id="company"
      name="company"
      className="select w-full"
      value={company}
      onChange={(e) => choose(e.target.value)}
      aria-describedby="company-error"
    >
      <option value="">Choose…</option>
      {companies.map((c) => (
        <option key={c.id} value={c.id}>
          {c.name}
        </option>
      ))}
      <option value="agency">{agency} (the agency itself)</option>
    </select>
  );
}
