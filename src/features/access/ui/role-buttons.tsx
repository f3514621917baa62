"use client";
import { useTransition } from "react";
import { toast } from "sonner";
import { answered } from "@/ui/answered";
import { copyRole, type RoleAnswer, retireRole } from "../roles";

/** Copy and retire, both in the draft; the draft's undo takes either back. */
export function RoleButtons({ portal, id, name, revision }: { portal: string; id: string; name: string; revision: number }) {
  const [busy, start] = useTransition();
  const act = (what: () => Promise<RoleAnswer>, done: string) => () =>
    start(async () => {
      const answer = await answered(what());
      if (!answer) return;
      if (answer.ok) toast(done);
      else toast.error(answer.errors.form ?? "This could not be done.");
    });
  return (
    <>
      <button
        type="button"
        className="btn btn-ghost btn-sm"
        disabled={busy}
        onClick={act(() => copyRole(portal, id, revision), `${name} is copied, with its grants.`)}
      >
        Copy
      </button>
      <button
        type="button"
        className="btn btn-ghost btn-sm"
        disabled={busy}
        onClick={act(() => retireRole(portal, id, revision), `${name} is out of the draft. Undo brings it back.`)}
      >
        Retire
      </button>
    </>
  );
}
