"use client";
import { Archive, ArrowDown, ArrowUp, Trash2, Undo2 } from "lucide-react";
import { useRouter } from "next/navigation";
import { type ReactNode, useState, useTransition } from "react";
import { toast } from "sonner";
import { answered } from "@/ui/answered";
import { actOnField } from "../../shaping";

interface Props {
  portal: string;
  id: string;
  name: string;
  first?: boolean;
  last?: boolean;
  /** A field that every portal has: it cannot be removed. */
  fixed?: boolean;
  away?: boolean;
}

/** Order, putting away and its undo; removing for good is asked about, since it cannot be undone. */
export function FieldActs({ portal, id, name, first, last, fixed, away }: Props) {
  const router = useRouter();
  const [busy, start] = useTransition();
  const [sure, setSure] = useState(false);
  const act = (what: Parameters<typeof actOnField>[2], done?: () => void): void =>
    start(async () => {
      const answer = await answered(actOnField(portal, id, what));
      if (!answer) return;
      if (!answer.ok) {
        toast.error(answer.message, { duration: 15_000 });
        return;
      }
      if (what === "back" && answer.value) toast(`${name} is back. ${answer.value}`, { duration: 15_000 });
      done?.();
      router.refresh();
    });
  const putAway = (): void =>
    act("away", () => toast(`${name} is put away.`, { duration: 15_000, action: { label: "Undo", onClick: () => act("back") } }));
  if (away)
    return (
      <span className="flex items-center gap-2">
        <button type="button" className="btn btn-sm" disabled={busy} onClick={() => act("back")}>
          <Undo2 size={14} aria-hidden /> Bring back
        </button>
        {sure ? (
          <button type="button" className="btn btn-error btn-sm" disabled={busy} onClick={() => act("remove")}>
            Remove {name} and all its values for good
          </button>
        ) : (
          <button type="button" className="btn btn-ghost btn-sm" disabled={busy} onClick={() => setSure(true)}>
            <Trash2 size={14} aria-hidden /> Remove for good…
          </button>
        )}
      </span>
    );
  return (
    <span className="flex justify-end">
      <Act label={`Move ${name} up`} disabled={busy || first} onClick={() => act("up")}>
        <ArrowUp size={14} aria-hidden />
      </Act>
      <Act label={`Move ${name} down`} disabled={busy || last} onClick={() => act("down")}>
        <ArrowDown size={14} aria-hidden />
      </Act>
      <Act label={`Put ${name} away`} disabled={busy || fixed} onClick={putAway}>
        <Archive size={14} aria-hidden />
      </Act>
    </span>
  );
}

function Act({
  label,
  disabled,
  onClick,
  children,
}: {
  label: string;
  disabled: boolean | undefined;
  onClick: () => void;
  children: ReactNode;
}) {
  return (
    <button
      type="button"
      className="btn btn-ghost btn-square size-7!"
      aria-label={label}
      title={label}
      disabled={disabled}
      onClick={onClick}
    >
      {children}
    </button>
  );
}
