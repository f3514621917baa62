"use client";
import { useRouter } from "next/navigation";
import { useState, useTransition } from "react";
import type { Condition } from "@/core/schema/condition";
import { FilterButton } from "@/office/filter/filter-button";
import { answered } from "@/ui/answered";
import { Link } from "@/ui/link";
import type { HookKind, HookSettings } from "@/webhooks/hooks";
import type { Named, RoleChoice } from "../ui/choices";
import { RoleAndCompany } from "../ui/role-and-company";
import { ShownOnce } from "../ui/shown-once";
import { saveHook } from "./actions";
import { KindsChoice } from "./kinds-choice";

interface Props {
  portal: string;
  /** Address of the list of webhooks. */
  list: string;
  id: string | null;
  hook: HookSettings;
  roles: readonly RoleChoice[];
  companies: readonly Named[];
  tables: readonly Named[];
  kinds: { readonly records: readonly HookKind[]; readonly others: readonly HookKind[] };
}

/** A webhook's settings; a new one shows its secret once. */
export function HookForm({ portal, list, id, hook, roles, companies, tables, kinds }: Props) {
  const [h, setH] = useState(hook);
  const [wrong, setWrong] = useState<{ field: string; message: string } | null>(null);
  const [made, setMade] = useState<{ id: string; secret: string } | null>(null);
  const [busy, start] = useTransition();
  const router = useRouter();
  const save = (): void =>
    start(async () => {
      const answer = await answered(saveHook(portal, id, h));
      if (!answer) return;
      if (!answer.ok) setWrong("field" in answer ? answer : { field: "", message: answer.message });
      else if (answer.secret !== null) setMade({ id: answer.id, secret: answer.secret });
      else router.push(`${list}/${answer.id}`);
    });
  if (made) return <TheSecret secret={made.secret} to={`${list}/${made.id}`} />;
  const error = (field: string): string | null => (wrong?.field === field ? wrong.message : null);
  const box = (name: "name" | "url", label: string, hint: string) => (
    <HookBox name={name} label={label} hint={hint} value={h[name]} set={(v) => setH({ ...h, [name]: v })} wrong={error(name)} />
  );
  return (
    <form
      className="sheet grid max-w-3xl gap-6 p-6"
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        save();
      }}
    >
      {error("") && (
        <div role="alert" className="alert alert-error">
          {error("")}
        </div>
      )}
      {box("name", "Who is told", "Such as Accounting, or Chat of the team")}
      {box("url", "Address", "Where the messages are posted to, beginning with https://")}
      <fieldset className="grid gap-2">
        <legend className="field-label">It sees what this role sees</legend>
        <RoleAndCompany
          roles={roles}
          companies={companies}
          role={h.role}
          company={h.company ?? ""}
          onChange={(role, company) => setH({ ...h, role, company: company || null })}
          describedBy="role-error"
        />
        <p id="role-error" className="field-error">
          {error("role")}
        </p>
      </fieldset>
      <WhichRecords portal={portal} h={h} setH={setH} tables={tables} wrong={{ table: error("table"), filter: error("filter") }} />
      <KindsChoice
        kinds={kinds}
        chosen={h.kinds}
        onChange={(next) => setH({ ...h, kinds: next })}
        agency={roles.find((r) => r.id === h.role)?.side !== "client"}
        error={error("kinds")}
      />
      <div className="flex items-center gap-4">
        <button type="submit" className="btn btn-primary" disabled={busy}>
          {id === null ? "Make the webhook" : "Save"}
        </button>
        <Link className="link-plain" href={id === null ? list : `${list}/${id}`}>
          Cancel
        </Link>
      </div>
    </form>
  );
}

function TheSecret({ secret, to }: { secret: string; to: string }) {
  return (
    <div className="sheet grid max-w-3xl gap-4 p-6" role="status">
      <h2>The webhook has been made</h2>
      <p className="max-w-prose">
        This is its secret, shown this once. With it the other program checks that a message comes from here (Standard Webhooks).
      </p>
      <ShownOnce label="The secret" value={secret} />
      <div>
        <Link className="btn btn-primary" href={to}>
          I have kept it
        </Link>
      </div>
    </div>
  );
}

interface BoxProps {
  name: string;
  label: string;
  hint: string;
  value: string;
  set: (value: string) => void;
  wrong: string | null;
}

function HookBox({ name, label, hint, value, set, wrong }: BoxProps) {
  return (
    <div>
      <label className="field-label" htmlFor={name}>
        {label}
      </label>
      <input
        id={name}
        className="input w-full"
        autoComplete="off"
        value={value}
        onChange={(e) => set(e.target.value)}
        aria-invalid={wrong ? true : undefined}
        aria-describedby={`${name}-hint ${name}-error`}
      />
      <p id={`${name}-hint`} className="quiet mt-1 text-sm">
        {hint}
      </p>
      <p id={`${name}-error`} className="field-error">
        {wrong}
      </p>
    </div>
  );
}

interface RecordsProps {
  portal: string;
  h: HookSettings;
  setH: (h: HookSettings) => void;
  tables: readonly Named[];
  wrong: { readonly table: string | null; readonly filter: string | null };
}

/** Chooses a table, and which of its records. */
function WhichRecords({ portal, h, setH, tables, wrong }: RecordsProps) {
  return (
    <div className="grid gap-3">
      <div>
        <label className="field-label" htmlFor="table">
          Of which table
        </label>
        <select
          id="table"
          className="select w-full"
          value={h.table ?? ""}
          onChange={(e) => setH({ ...h, table: e.target.value || null, filter: null })}
          aria-describedby="table-error"
        >
          <option value="">All that the role sees</option>
          {tables.map((t) => (
            <option key={t.id} value={t.id}>
              {t.name}
            </option>
          ))}
        </select>
        <p id="table-error" className="field-error">
          {wrong.table}
        </p>
      </div>
      {h.table !== null && (
        <FilterButton
          portal={portal}
          label="Only records that meet this filter"
          table={h.table}
          value={h.filter}
          onChange={(filter: Condition | null) => setH({ ...h, filter })}
        />
      )}
      <p className="field-error">{wrong.filter}</p>
    </div>
  );
}
