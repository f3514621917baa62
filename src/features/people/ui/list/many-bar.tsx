"use client";
/** What is done with all of the chosen people beside inviting them. */
import { type Dispatch, type SetStateAction, useState, useTransition } from "react";
import { toast } from "sonner";
import { answered } from "@/ui/answered";
import { changeMany, type ManyAct, undoMany } from "../../many";
import { part, takePartingBack } from "../../parting";

interface Props {
  portal: string;
  chosen: readonly string[];
  roles: readonly { readonly id: string; readonly name: string }[];
  some: (n: number) => string;
  /** Called once they are gone, so that nobody is chosen any more. */
  leave: () => void;
}

export function ManyBar({ portal, chosen, roles, some, leave }: Props) {
  const [busy, start] = useTransition();
  const [role, setRole] = useState(roles[0]?.id ?? "");
  const [told, setTold] = useState("");
  const [leaving, setLeaving] = useState(false);
  const act = (what: ManyAct, words: string): void =>
    start(async () => {
      const done = await answered(changeMany(portal, { ids: [...chosen], act: what }));
      if (!done) return;
      if (!done.ok) return setTold(done.message);
      const { left, undo } = done;
      setTold(
        left.length === 0
          ? ""
          : `${some(left.length)} stayed as they were: ${left
              .slice(0, 8)
              .map((l) => `${l.name} ${l.why}`)
              .join("; ")}${left.length > 8 ? " …" : ""}`,
      );
      toast.success(`${some(done.changed)}: ${words}.`, {
        ...(done.changed > 0 ? { action: { label: "Undo", onClick: () => void answered(undoMany(portal, undo)) } } : {}),
      });
    });
  const remove = (kind: "keep" | "clear"): void =>
    start(async () => {
      const done = await answered(part(portal, { act: "remove", ids: [...chosen], leaving: { kind } }, true));
      if (!done) return;
      if (!done.ok) return setTold(done.message);
      setLeaving(false);
      leave();
      toast.success(`${some(done.trials.length)} removed.`, {
        action: {
          label: "Undo",
          onClick: async () => {
            const back = await answered(takePartingBack(portal, [...chosen]));
            if (back?.problem) toast.error(back.problem);
            else if (back) toast.success(`${some(back.back)} are back.`);
          },
        },
        duration: 20_000,
      });
    });
  const name = roles.find((r) => r.id === role)?.name ?? "";
  return (
    <div className="grid gap-2">
      <ManyActs busy={busy} act={act} role={role} setRole={setRole} roles={roles} name={name} leaving={leaving} setLeaving={setLeaving} />
      {leaving && (
        <div className="flex flex-wrap items-center gap-3 text-sm">
          <span>What points to them</span>
          <button type="button" className="btn btn-sm" disabled={busy} onClick={() => remove("keep")}>
            goes on naming them
          </button>
          <button type="button" className="btn btn-sm" disabled={busy} onClick={() => remove("clear")}>
            names nobody
          </button>
          <span className="quiet">They are out either way, and come back from the bin for thirty days.</span>
        </div>
      )}
      <p role="status" className="text-sm empty:hidden">
        {told}
      </p>
    </div>
  );
}

interface ManyActsProps {
  readonly busy: boolean;
  readonly act: (what: ManyAct, words: string) => void;
  readonly role: string;
  readonly setRole: Dispatch<SetStateAction<string>>;
  readonly roles: readonly { id: string; name: string }[];
  readonly name: string;
  readonly leaving: boolean;
  readonly setLeaving: Dispatch<SetStateAction<boolean>>;
}

/** What can be done with all that are chosen. */
function ManyActs({ busy, act, role, setRole, roles, name, leaving, setLeaving }: ManyActsProps) {
  return (
    <div className="flex flex-wrap items-center gap-2">
      <button
        type="button"
        className="btn btn-ghost btn-sm"
        disabled={busy}
        onClick={() => act({ kind: "status", status: "inactive" }, "made inactive")}
      >
        Make inactive
      </button>
      <button
        type="button"
        className="btn btn-ghost btn-sm"
        disabled={busy}
        onClick={() => act({ kind: "status", status: "active" }, "made active")}
      >
        Make active
      </button>
      <label className="sr-only" htmlFor="many-role">
        Role to give or take
      </label>
      <select id="many-role" className="select select-sm w-40" value={role} onChange={(e) => setRole(e.target.value)}>
        {roles.map((r) => (
          <option key={r.id} value={r.id}>
            {r.name}
          </option>
        ))}
      </select>
      <button
        type="button"
        className="btn btn-ghost btn-sm"
        disabled={busy || !role}
        onClick={() => act({ kind: "role", role, give: true }, `given ${name}`)}
      >
        Give this role
      </button>
      <button
        type="button"
        className="btn btn-ghost btn-sm"
        disabled={busy || !role}
        onClick={() => act({ kind: "role", role, give: false }, `no longer ${name}`)}
      >
        Take it
      </button>
      <button type="button" className="btn btn-ghost btn-sm" aria-expanded={leaving} onClick={() => setLeaving(!leaving)}>
        Remove…
      </button>
    </div>
  );
}
