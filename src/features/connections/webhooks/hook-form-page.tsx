import { notFound } from "next/navigation";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { Link } from "@/ui/link";
import { HOOK_KINDS, type HookSettings, hookById, isAboutRecord } from "@/webhooks/hooks";
import { accessChoices } from "../ui/choices";
import { HookForm } from "./hook-form";

const NEW: HookSettings = {
  name: "",
  url: "",
  kinds: ["record-added", "record-changed", "record-removed", "record-restored"],
  table: null,
  filter: null,
  role: "",
  company: null,
};

/** A new webhook, or the settings of one that is there. */
export function HookFormPage({ p, id }: { p: OfficePortal; id: string | null }) {
  const hook = id === null ? undefined : hookById(p.file, id);
  if (id !== null && !hook) notFound();
  const list = `${p.at}/connections/webhooks`;
  const { name, url, kinds, table, filter, role, company } = hook ?? NEW;
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <nav aria-label="Where you are" className="-mb-3 text-sm">
        <Link className="link-plain" href={id === null ? list : `${list}/${id}`}>
          {hook ? hook.name : "Webhooks"}
        </Link>
      </nav>
      <h1>{hook ? "Change the webhook" : "New webhook"}</h1>
      <HookForm
        portal={p.slug}
        list={list}
        id={id}
        hook={{ name, url, kinds, table, filter, role, company }}
        {...accessChoices(p)}
        kinds={{ records: HOOK_KINDS.filter(isAboutRecord), others: HOOK_KINDS.filter((k) => !isAboutRecord(k)) }}
      />
    </div>
  );
}
