"use client";
/** Where each role lands after signing in, if they were not on their way to something. */
import { useTransition } from "react";
import { toast } from "sonner";
import { answered } from "@/ui/answered";
import { keepLanding } from "../actions";

interface Props {
  portal: string;
  revision: number;
  roles: readonly { id: string; name: string }[];
  landing: Readonly<Record<string, string>>;
  pages: readonly { id: string; name: string }[];
}

export function LandingForm({ portal, revision, roles, landing, pages }: Props) {
  const [busy, start] = useTransition();
  return (
    <section aria-labelledby="landing" className="grid max-w-3xl gap-3" aria-busy={busy}>
      <h2 id="landing">Landing</h2>
      <p className="quiet">After signing in people go on to where they were going. Whoever was going nowhere lands here.</p>
      <ul className="sheet divide-y divide-base-300/60">
        {roles.map((r) => (
          <li key={r.id} className="flex items-center justify-between gap-3 px-4 py-2">
            <label htmlFor={`landing-${r.id}`}>{r.name}</label>
            <select
              id={`landing-${r.id}`}
              className="select select-sm w-56"
              value={landing[r.id] ?? ""}
              disabled={busy}
              onChange={(e) =>
                start(async () => {
                  const answer = await answered(keepLanding(portal, revision, r.id, e.target.value || null));
                  if (answer && !answer.ok) toast.error(answer.messages.join(" "));
                })
              }
            >
              <option value="">Home</option>
              {pages.map((p) => (
                <option key={p.id} value={p.id}>
                  {p.name}
                </option>
              ))}
            </select>
          </li>
        ))}
      </ul>
    </section>
  );
}
