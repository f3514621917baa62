"use client";
import type { Joining } from "@/core/joining/joining";
import type { CompanySettings } from "@/joining/company-settings";
import type { FormState } from "@/ui/forms/form";
import { useSafeForm } from "@/ui/forms/safe-form";
import { Told } from "@/ui/told";

type Action = (before: FormState, data: FormData) => Promise<FormState>;
interface Named {
  readonly id: string;
  readonly name: string;
}

const WHO = [
  ["nobody", "Nobody", "People come in when they are invited."],
  ["known", "Only people the agency knows", "Whose address is in People gets a link; nobody else is written to."],
  ["domains", "Addresses of certain domains", "Others are told which are taken. A domain below a listed one is another."],
  ["anybody", "Anybody", "Whose address is confirmed by the link that goes to it."],
] as const;
const KINDS = [
  ["company", "As a company", "Person, company and its first role are made together."],
  ["member", "As one of a company that is here", "Somebody of the agency says of which; always with approval."],
  ["alone", "Just me", "A company of one."],
] as const;

const Tick = (t: { name: string; value?: string; on: boolean; label: string; about?: string; label2?: string }) => (
  <label className="flex items-start gap-3">
    <input
      type="checkbox"
      name={t.name}
      {...(t.value ? { value: t.value } : {})}
      defaultChecked={t.on}
      aria-label={t.label2}
      className="checkbox checkbox-sm mt-1"
    />
    <span>
      {t.label}
      {t.about && <span className="quiet block text-sm">{t.about}</span>}
    </span>
  </label>
);

const RolePick = ({ name, label, roles, held }: { name: string; label: string; roles: readonly Named[]; held: string | null }) => (
  <div>
    <label className="field-label" htmlFor={name}>
      {label}
    </label>
    <select id={name} name={name} className="select w-full" defaultValue={held ?? ""}>
      <option value="">None</option>
      {roles.map((r) => (
        <option key={r.id} value={r.id}>
          {r.name}
        </option>
      ))}
    </select>
  </div>
);

interface JoiningProps {
  action: Action;
  settings: Joining;
  roles: readonly Named[];
  fields: readonly (Named & { of: string })[];
}

export function JoiningForm({ action, settings: s, roles, fields }: JoiningProps) {
  const { state, pending, form } = useSafeForm(action);
  return (
    <form {...form} className="sheet grid gap-5 p-5">
      <fieldset className="grid gap-2">
        <legend className="title mb-2 text-lg font-semibold">Who may join by themselves</legend>
        {WHO.map(([id, label, about]) => (
          <label key={id} className="flex items-start gap-3">
            <input type="radio" name="who" value={id} defaultChecked={s.who === id} className="radio radio-sm mt-1" />
            <span>
              {label}
              <span className="quiet block text-sm">{about}</span>
            </span>
          </label>
        ))}
      </fieldset>
      <div>
        <label className="field-label" htmlFor="domains">
          Domains
        </label>
        <input
          id="domains"
          name="domains"
          className="input w-full"
          defaultValue={s.domains.join(", ")}
          placeholder="client.example, other.example"
        />
      </div>
      <Tick
        name="approval"
        on={s.approval}
        label="Somebody of the agency approves first"
        about="They wait in a queue, and are told by mail."
      />
      <fieldset className="grid gap-2">
        <legend className="field-label">Kinds of sign-up</legend>
        {KINDS.map(([id, label, about]) => (
          <Tick key={id} name="kinds" value={id} on={s.kinds.includes(id)} label={label} about={about} />
        ))}
      </fieldset>
      <div className="grid gap-4 sm:grid-cols-2">
        <RolePick name="lead" label="Who brings a company is" roles={roles} held={s.lead} />
        <RolePick name="member" label="Who is approved into a company is" roles={roles} held={s.member} />
      </div>
      {fields.length > 0 && <AskedFields fields={fields} s={s} />}
      <div>
        <label className="field-label" htmlFor="terms">
          Terms to agree to <span className="quiet font-normal">(none where empty; a change is a new version)</span>
        </label>
        <textarea id="terms" name="terms" rows={4} className="textarea w-full" defaultValue={s.terms} />
      </div>
      <Told state={state} />
      <button type="submit" className="btn btn-primary justify-self-start" disabled={pending}>
        Keep
      </button>
    </form>
  );
}

interface CompanyProps {
  action: Action;
  settings: CompanySettings;
  roles: readonly Named[];
  companies: readonly (Named & { people: number })[];
}

export function CompanyPagesForm({ action, settings: s, roles, companies }: CompanyProps) {
  const { state, pending, form } = useSafeForm(action);
  return (
    <form {...form} className="sheet grid gap-5 p-5">
      <div>
        <h2>What companies do themselves</h2>
        <p className="quiet mt-1">
          Leads have a page of their own: they invite colleagues, give roles, take people out and hand the lead over.
        </p>
      </div>
      <LeadRoles roles={roles} s={s} />
      <div>
        <label className="field-label" htmlFor="seats">
          Seats of each company <span className="quiet font-normal">(as many as like, where empty)</span>
        </label>
        <input id="seats" name="seats" inputMode="numeric" className="input w-28" defaultValue={s.seats ?? ""} />
      </div>
      {companies.length > 0 && (
        <details>
          <summary className="link-plain cursor-pointer">Seats of single companies</summary>
          <ul className="mt-3 grid gap-2 sm:grid-cols-2">
            {companies.map((c) => (
              <li key={c.id} className="flex items-center gap-3">
                <label className="grow" htmlFor={`seats-${c.id}`}>
                  {c.name} <span className="quiet">({c.people} there)</span>
                </label>
                <input
                  id={`seats-${c.id}`}
                  name={`seats:${c.id}`}
                  inputMode="numeric"
                  className="input input-sm w-20"
                  defaultValue={s.seatsOf[c.id] ?? ""}
                />
              </li>
            ))}
          </ul>
        </details>
      )}
      <Told state={state} />
      <button type="submit" className="btn btn-primary justify-self-start" disabled={pending}>
        Keep
      </button>
    </form>
  );
}

/** What the form asks for. */
function AskedFields({ fields, s }: { fields: readonly (Named & { of: string })[]; s: Joining }) {
  return (
    <div className="overflow-x-auto">
      <h3 className="field-label" id="asked-for">
        What the form asks for, beside name and address
      </h3>
      <table className="table [&_td]:py-2 [&_th]:py-2 [&_th]:text-base-content" aria-labelledby="asked-for">
        <thead>
          <tr>
            <th scope="col">Field</th>
            <th scope="col">Asked for</th>
            <th scope="col">Always set to</th>
          </tr>
        </thead>
        <tbody>
          {fields.map((f) => (
            <tr key={f.id}>
              <th scope="row" className="font-medium">
                {f.name} <span className="quiet font-normal">of the {f.of.toLowerCase()}</span>
              </th>
              <td>
                <input
                  type="checkbox"
                  name="fields"
                  value={f.id}
                  aria-label={`Ask for ${f.name}`}
                  defaultChecked={s.fields.includes(f.id)}
                  className="checkbox checkbox-sm"
                />
              </td>
              <td>
                <input
                  name={`fixed:${f.id}`}
                  aria-label={`${f.name} is always`}
                  className="input input-sm w-full min-w-32"
                  defaultValue={s.fixed[f.id] ?? ""}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** Which roles lead, and which leads may give. */
function LeadRoles({ roles, s }: { roles: readonly Named[]; s: CompanySettings }) {
  return (
    <div className="overflow-x-auto">
      <table className="table [&_td]:py-2 [&_th]:py-2 [&_th]:text-base-content">
        <thead>
          <tr>
            <th scope="col">Role</th>
            <th scope="col">Leads its company</th>
            <th scope="col">May be given by leads</th>
          </tr>
        </thead>
        <tbody>
          {roles.map((r) => (
            <tr key={r.id}>
              <th scope="row" className="font-medium">
                {r.name}
              </th>
              <td>
                <input
                  type="checkbox"
                  name="leads"
                  value={r.id}
                  aria-label={`${r.name} leads its company`}
                  defaultChecked={s.leads.includes(r.id)}
                  className="checkbox checkbox-sm"
                />
              </td>
              <td>
                <input
                  type="checkbox"
                  name="give"
                  value={r.id}
                  aria-label={`Leads may give ${r.name}`}
                  defaultChecked={s.give.includes(r.id)}
                  className="checkbox checkbox-sm"
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
