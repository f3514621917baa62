"use client";
import { useActionState } from "react";
import { type FormState, NEW_FORM } from "@/ui/forms/form";
import { useSafeForm } from "@/ui/forms/safe-form";
import { TextBox } from "@/ui/forms/text-box";
import { Told } from "@/ui/told";

type Action<S> = (before: S, data: FormData) => Promise<S>;
type Asked = FormState & { readonly link?: string };
interface Role {
  readonly id: string;
  readonly name: string;
  readonly about: string;
}

function RolePicker({ id, roles, held }: { id: string; roles: readonly Role[]; held?: string }) {
  return (
    <select id={id} name="role" className="select select-sm w-32" defaultValue={held ?? "support"}>
      {roles.map((r) => (
        <option key={r.id} value={r.id}>
          {r.name}
        </option>
      ))}
    </select>
  );
}

export function InviteStaff({ action, roles }: { action: Action<Asked>; roles: readonly Role[] }) {
  const [state, post, pending] = useActionState(action, NEW_FORM as Asked);
  return (
    <form action={post} noValidate className="grid gap-4">
      <Told state={state} />
      {state.link && <code className="rounded bg-base-200 p-3 text-sm break-all">{state.link}</code>}
      <div className="grid gap-4 sm:grid-cols-2">
        <TextBox name="name" label="Name" autoComplete="off" state={state} />
        <TextBox name="email" type="email" label="E-mail address" autoComplete="off" state={state} />
      </div>
      <div>
        <label className="field-label" htmlFor="new-role">
          Role
        </label>
        <RolePicker id="new-role" roles={roles} />
        <ul className="quiet mt-2 text-sm">
          {roles.map((r) => (
            <li key={r.id}>
              <strong className="font-medium">{r.name}:</strong> {r.about}
            </li>
          ))}
        </ul>
      </div>
      <button type="submit" className="btn btn-primary justify-self-start" disabled={pending}>
        Send a link
      </button>
    </form>
  );
}

interface Member {
  readonly id: string;
  readonly name: string;
  readonly email: string;
  readonly role: string;
  readonly status: string;
  readonly second: boolean;
}
interface MemberProps {
  who: Member;
  oneself: boolean;
  roles: readonly Role[];
  action: Action<FormState>;
}

export function StaffMember({ who, oneself, roles, action }: MemberProps) {
  const { state, pending, form } = useSafeForm(action);
  const button = (act: string, words: string) => (
    <button type="submit" name="act" value={act} className="btn btn-ghost btn-sm" aria-label={`${words}: ${who.name}`} disabled={pending}>
      {words}
    </button>
  );
  return (
    <li className="py-3">
      <form {...form} className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <div className="min-w-0 grow">
          <strong className="font-medium">{who.name}</strong>
          {oneself && <span className="quiet"> (you)</span>}
          <span className="quiet block text-sm break-all">
            {who.email} · {who.status === "invited" ? "asked in" : who.status}
            {who.second && " · second factor"}
          </span>
        </div>
        <label className="sr-only" htmlFor={`role-${who.id}`}>
          Role of {who.name}
        </label>
        <RolePicker id={`role-${who.id}`} roles={roles} held={who.role} />
        <button type="submit" name="act" value="role" className="btn btn-sm" aria-label={`Give the role: ${who.name}`} disabled={pending}>
          Give the role
        </button>
        {who.status === "invited" && button("withdraw", "Take back")}
        {who.status === "active" && !oneself && button("inactive", "Make inactive")}
        {who.status === "inactive" && button("active", "Make active again")}
        {who.second && !oneself && button("second", "Second factor lost")}
      </form>
      {(state.message || state.done) && (
        <p role={state.message ? "alert" : "status"} className={state.message ? "field-error" : "quiet text-sm"}>
          {state.message ?? state.done}
        </p>
      )}
    </li>
  );
}
