/** Views of this list that its reader keeps by name. */
import { X } from "lucide-react";
import { viewsKept } from "@/data/views/kept";
import { SafeForm } from "@/ui/forms/safe-form";
import { Link } from "@/ui/link";
import { sayOf } from "../../queries";
import { dropView, keepView } from "../../records/list-actions";
import type { At } from "../at";
import type { ListAddress } from "./address";
import { KeepForm } from "./keep-form";

export function KeptViews({ at: { r }, section, address }: { at: At; section: string; address: ListAddress }) {
  if (!r.viewer.person) return null;
  const say = sayOf(r);
  const views = viewsKept(r.file, r.viewer, section);
  return (
    <details className="dropdown dropdown-end">
      <summary className="btn btn-sm list-none">
        {say("views.title")} {views.length > 0 && <span className="quiet tabular-nums">{views.length}</span>}
      </summary>
      <div className="dropdown-content sheet z-20 mt-1 grid w-72 gap-3 p-4 shadow-lg">
        {views.length > 0 && (
          <ul className="grid gap-1">
            {views.map((v) => (
              <li key={v.id} className="flex items-center justify-between gap-2">
                <Link
                  className="link-plain min-w-0 truncate"
                  href={address.as(v.query)}
                  {...(v.query === address.own ? { "aria-current": "true" as const } : {})}
                >
                  {v.name}
                </Link>
                {!r.seeAs && (
                  <SafeForm action={dropView.bind(null, v.id)}>
                    <button type="submit" className="btn btn-ghost btn-xs btn-square" aria-label={say("views.drop", { name: v.name })}>
                      <X size={13} aria-hidden />
                    </button>
                  </SafeForm>
                )}
              </li>
            ))}
          </ul>
        )}
        {!r.seeAs && <KeepForm action={keepView.bind(null, section, address.own)} id={`keep-${section}`} />}
      </div>
    </details>
  );
}
