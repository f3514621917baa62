"use client";
import { FILE_PATH, recordName, recordText } from "@/core/address/domain";
import type { FormState } from "@/ui/forms/form";
import { useSafeForm } from "@/ui/forms/safe-form";
import { Told } from "@/ui/told";

interface Props {
  host: string;
  token: string;
  action: (before: FormState, data: FormData) => Promise<FormState>;
}

/** What is to be set where, and the look for it. */
export function DomainCard({ host, token, action }: Props) {
  const { state, pending, form } = useSafeForm(action);
  return (
    <div className="grid gap-4">
      <div className="grid gap-4 md:grid-cols-2">
        <Way
          title="By a text record"
          rows={[
            ["Name", recordName(host)],
            ["Type", "TXT"],
            ["Text", recordText(token)],
          ]}
        />
        <Way
          title="Or by a file"
          rows={[
            ["Address", `https://${host}${FILE_PATH}`],
            ["Content", recordText(token)],
          ]}
        />
      </div>
      <Told state={state} />
      <form {...form}>
        <button type="submit" className="btn btn-primary btn-sm" disabled={pending} aria-label={`Look for ${host} now`}>
          {pending ? "Looking…" : "Look now"}
        </button>
      </form>
    </div>
  );
}

function Way({ title, rows }: { title: string; rows: readonly (readonly [string, string])[] }) {
  return (
    <div className="rounded-box border border-base-300 p-4">
      <h3 className="font-medium">{title}</h3>
      <dl className="mt-2 grid grid-cols-[auto_minmax(0,1fr)] gap-x-4 gap-y-1.5">
        {rows.map(([k, v]) => (
          <div key={k} className="contents">
            <dt className="quiet">{k}</dt>
            <dd className="select-all break-all font-mono text-sm">{v}</dd>
          </div>
        ))}
      </dl>
    </div>
  );
}
