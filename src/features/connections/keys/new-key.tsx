"use client";
import { useRef, useState } from "react";
import { PersonFinder } from "@/ui/forms/person-finder";
import { useSafeForm } from "@/ui/forms/safe-form";
import { TextBox } from "@/ui/forms/text-box";
import { Link } from "@/ui/link";
import { Told } from "@/ui/told";
import type { Named, RoleChoice } from "../ui/choices";
import { RoleAndCompany } from "../ui/role-and-company";
import { ShownOnce } from "../ui/shown-once";
import type { MadeKey } from "./actions";
import { KeyReach } from "./key-reach";

interface Props {
  action: (before: MadeKey, data: FormData) => Promise<MadeKey>;
  /** Address of the list of keys. */
  keys: string;
  /** Address that finds people. */
  people: string;
  roles: readonly RoleChoice[];
  companies: readonly Named[];
  tables: readonly Named[];
  person: { readonly value: string; readonly name: string } | null;
}

const LASTS = [
  ["30", "30 days"],
  ["90", "90 days"],
  ["365", "A year"],
  ["never", "Until I end it"],
] as const;

/** The key is shown on this page once it has been made, and nowhere again. */
export function NewKey({ action, keys, ...choices }: Props) {
  const { state, pending, form } = useSafeForm(action);
  const { token } = state as MadeKey;
  if (token) return <TheKey token={token} keys={keys} />;
  const error = (name: string) =>
    state.errors[name] && (
      <p id={`${name}-error`} className="field-error">
        {state.errors[name]}
      </p>
    );
  return (
    <form {...form} className="sheet grid max-w-3xl gap-6 p-6">
      <Told state={state} />
      <TextBox name="name" label="What it is for" hint="Such as Accounting, or Nightly report" autoComplete="off" state={state} />
      <Holder {...choices} state={state} />
      <KeyReach tables={choices.tables} error={state.errors.within} />
      <div className="grid gap-6 sm:grid-cols-2">
        <div>
          <label className="field-label" htmlFor="days">
            It works for
          </label>
          <select id="days" name="days" className="select w-full" defaultValue="90" aria-describedby="days-error">
            {LASTS.map(([value, words]) => (
              <option key={value} value={value}>
                {words}
              </option>
            ))}
          </select>
          {error("days")}
        </div>
        <div>
          <label className="field-label" htmlFor="perMinute">
            Requests a minute, at most
          </label>
          <input
            id="perMinute"
            name="perMinute"
            inputMode="numeric"
            className="input num w-full"
            defaultValue="600"
            aria-describedby="perMinute-error"
          />
          {error("perMinute")}
        </div>
      </div>
      <div>
        <label className="field-label" htmlFor="networks">
          Addresses that it may come from <span className="quiet font-normal">(optional)</span>
        </label>
        <textarea
          id="networks"
          name="networks"
          rows={2}
          className="textarea w-full font-mono text-sm"
          aria-describedby="networks-hint networks-error"
        />
        <p id="networks-hint" className="quiet mt-1 text-sm">
          One a line, as 192.0.2.7 or 192.0.2.0/24. Empty: from anywhere.
        </p>
        {error("networks")}
      </div>
      <label className="flex items-start gap-2">
        <input type="checkbox" name="tools" className="checkbox checkbox-sm mt-0.5" />
        <span>
          An assistant may use it
          <span className="quiet block text-sm">By the Model Context Protocol. Each thing that it does stands in what happened.</span>
        </span>
      </label>
      <div className="flex items-center gap-4">
        <button type="submit" className="btn btn-primary" disabled={pending}>
          Make the key
        </button>
        <Link className="link-plain" href={keys}>
          Cancel
        </Link>
      </div>
    </form>
  );
}

function TheKey({ token, keys }: { token: string; keys: string }) {
  return (
    <div className="sheet grid max-w-3xl gap-4 p-6" role="status">
      <h2>The key has been made</h2>
      <p className="max-w-prose">
        Keep it now: it is shown this once. Whoever has it can do what it opens, so give it to the program alone.
      </p>
      <ShownOnce label="The key" value={token} />
      <p className="quiet text-sm">
        It goes into the header of each request: <code className="break-all">Authorization: Bearer {token.slice(0, 12)}…</code>
      </p>
      <div>
        <Link className="btn btn-primary" href={keys}>
          I have kept it
        </Link>
      </div>
    </div>
  );
}

type HolderProps = Pick<Props, "people" | "roles" | "companies" | "person"> & { state: MadeKey };

/** Whose access the key has: a role's, or a person's. */
function Holder({ people, roles, companies, person, state }: HolderProps) {
  const [kind, setKind] = useState(person ? "person" : "role");
  const [role, setRole] = useState("");
  const [company, setCompany] = useState("");
  const [chosen, setChosen] = useState(person);
  const finder = useRef<HTMLDialogElement>(null);
  return (
    <fieldset className="grid gap-3">
      <legend className="field-label">It acts as</legend>
      <div className="flex flex-wrap gap-x-6 gap-y-1">
        {(["role", "person"] as const).map((k) => (
          <label key={k} className="flex items-center gap-2">
            <input type="radio" name="kind" value={k} className="radio radio-sm" checked={kind === k} onChange={() => setKind(k)} />
            {k === "role" ? "A role, and nobody in particular" : "A person"}
          </label>
        ))}
      </div>
      {kind === "role" ? (
        <RoleAndCompany
          roles={roles}
          companies={companies}
          role={role}
          company={company}
          onChange={(r, c) => {
            setRole(r);
            setCompany(c);
          }}
          describedBy="of-error"
        />
      ) : (
        <div>
          <input type="hidden" name="person" value={chosen?.value ?? ""} readOnly />
          <button type="button" className="btn" onClick={() => finder.current?.showModal()}>
            {chosen ? `${chosen.name}. Choose another` : "Choose a person…"}
          </button>
          <PersonFinder
            dialog={finder}
            source={people}
            label="Whose key is it?"
            placeholder="Name, company or role"
            onChoose={(p) => {
              finder.current?.close();
              setChosen({ value: `${p.personId} ${p.membershipId ?? ""}`.trim(), name: p.company ? `${p.name}, ${p.company}` : p.name });
            }}
          />
        </div>
      )}
      <p id="of-error" className="field-error">
        {state.errors.of}
      </p>
    </fieldset>
  );
}
