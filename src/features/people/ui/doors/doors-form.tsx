"use client";
import type { DoorSettings } from "@/identity/doors/settings";
import type { FormState } from "@/ui/forms/form";
import { useSafeForm } from "@/ui/forms/safe-form";

interface Named {
  readonly id: string;
  readonly name: string;
}
interface Props {
  action: (before: FormState, data: FormData) => Promise<FormState>;
  settings: DoorSettings;
  doors: readonly (Named & { about: string })[];
  numbers: readonly Named[];
  /** What carries SMS here, in words. */
  smsTold: string;
  /** Roles that may change numbers. */
  writers: readonly string[];
  roles: readonly Named[];
  /** What a role may land on. */
}

export function DoorsForm({ action, settings, doors, numbers, smsTold, writers, roles }: Props) {
  const { state, pending, form } = useSafeForm(action);
  return (
    <form {...form} className="grid gap-5">
      <fieldset className="sheet grid gap-1 p-5">
        <legend className="title float-left mb-1 text-lg font-semibold">Open to everybody</legend>
        <ul className="clear-both divide-y divide-base-300">
          {doors.map((d) => (
            <li key={d.id} className="py-2">
              <label className="flex items-start gap-3">
                <input
                  type="checkbox"
                  name="open"
                  value={d.id}
                  defaultChecked={settings.open.some((x) => x === d.id)}
                  className="checkbox checkbox-sm mt-1"
                />
                <span>
                  <span className="font-medium">{d.name}</span>
                  <span className="quiet block text-sm">
                    {d.about} {d.id === "sms-code" && smsTold}
                  </span>
                </span>
              </label>
              {d.id === "sms-code" && <TelephonePart numbers={numbers} settings={settings} writers={writers} />}
            </li>
          ))}
        </ul>
      </fieldset>
      <label className="sheet flex items-start gap-3 p-5">
        <input type="checkbox" name="names" defaultChecked={settings.names} className="checkbox checkbox-sm mt-1" />
        <span>
          <span className="font-medium">Sign-in names</span>
          <span className="quiet block text-sm">
            For people who have no e-mail address: a name that is theirs alone in this portal. What would go by mail goes by SMS, or by your
            hand.
          </span>
        </span>
      </label>
      <SecondFactorPart settings={settings} doors={doors} roles={roles} />
      {state.message && (
        <div role="alert" className="alert alert-error">
          {state.message}
        </div>
      )}
      <div className="flex items-center gap-4">
        <button type="submit" className="btn btn-primary" disabled={pending}>
          Keep
        </button>
        <span role="status">{state.done}</span>
      </div>
    </form>
  );
}

interface SecondFactorPartProps {
  readonly settings: DoorSettings;
  readonly doors: readonly (Named & { about: string })[];
  readonly roles: readonly Named[];
}

/** Who is asked for a second factor. */
function SecondFactorPart({ settings, doors, roles }: SecondFactorPartProps) {
  return (
    <section className="sheet grid gap-3 p-5" aria-labelledby="more">
      <h2 id="more">Of whom more is asked</h2>
      <label className="flex items-start gap-3">
        <input type="checkbox" name="second" defaultChecked={settings.second === "everybody"} className="checkbox checkbox-sm mt-1" />
        <span>
          <span className="font-medium">Everybody has a second factor</span>
          <span className="quiet block text-sm">
            An authenticator, asked for after every door. Whoever has none sets one up at the next sign-in. Without the tick it is
            everybody’s own choice.
          </span>
        </span>
      </label>
      <div className="overflow-x-auto">
        <table className="table [&_td]:px-2 [&_td]:py-2 [&_th]:px-2 [&_th]:py-2 [&_th]:text-base-content">
          <thead>
            <tr>
              <th scope="col">Role</th>
              <th scope="col">A second factor</th>
              {doors.map((d) => (
                <th key={d.id} scope="col">
                  {d.id === "outside" ? "Organisation" : d.name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {roles.map((r) => (
              <tr key={r.id}>
                <th scope="row" className="font-medium whitespace-nowrap">
                  {r.name}
                </th>
                <td>
                  <input
                    type="checkbox"
                    name={`second:${r.id}`}
                    aria-label={`${r.name}: a second factor`}
                    defaultChecked={settings.roles[r.id]?.second}
                    className="checkbox checkbox-sm"
                  />
                </td>
                {doors.map((d) => (
                  <td key={d.id}>
                    <input
                      type="checkbox"
                      name={`doors:${r.id}`}
                      value={d.id}
                      aria-label={`${r.name}: only by ${d.name}`}
                      defaultChecked={settings.roles[r.id]?.doors.some((x) => x === d.id)}
                      className="checkbox checkbox-sm"
                    />
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="quiet text-sm">
        A role with ticks comes in by those doors alone; one without by all that are open. Whoever has several roles must fit them all.
        Where people land afterwards is set under Pages.
      </p>
    </section>
  );
}

interface TelephonePartProps {
  readonly numbers: readonly Named[];
  readonly settings: DoorSettings;
  readonly writers: readonly string[];
}

/** Where telephone numbers are. */
function TelephonePart({ numbers, settings, writers }: TelephonePartProps) {
  return (
    <div className="mt-2 pl-8">
      <label className="field-label" htmlFor="telephone">
        The number is in
      </label>
      {numbers.length === 0 ? (
        <p className="text-sm text-accent">People has no field of telephone numbers yet: nobody could be sent a code.</p>
      ) : (
        <select id="telephone" name="telephone" className="select select-sm w-60" defaultValue={settings.telephone ?? numbers[0]!.id}>
          {numbers.map((f) => (
            <option key={f.id} value={f.id}>
              {f.name}
            </option>
          ))}
        </select>
      )}
      {writers.length > 0 && (
        <p className="mt-2 text-sm text-accent">May change numbers, and so come in as whoever’s they are: {writers.join(", ")}.</p>
      )}
    </div>
  );
}
