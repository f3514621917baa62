"use client";
/** The role of a level below the company: what it would see is said before it is drafted. */
import { useState, useTransition } from "react";
import { answered } from "@/ui/answered";
import { Link } from "@/ui/link";
import { addLevel } from "../../making-actions";

interface Props {
  portal: string;
  table: string;
  guess: string;
  sees: readonly string[];
  /** The field of People that already points to this table; null where there is none. */
  tied: string | null;
  to: { access: string; people: string };
}

export function LevelForm({ portal, table, guess, sees, tied, to }: Props) {
  const [role, setRole] = useState(guess);
  const [busy, start] = useTransition();
  const [done, setDone] = useState<string | null>(null);
  const [message, setMessage] = useState<string | null>(null);
  if (done)
    return (
      <p role="status" className="alert alert-success alert-soft block">
        The role {done} is in the draft.{" "}
        <Link href={to.people} className="link-plain">
          Say of each person which are theirs
        </Link>
        , then{" "}
        <Link href={to.access} className="link-plain">
          look at the draft and publish it
        </Link>
        .
      </p>
    );
  return (
    <form
      className="sheet grid gap-4 p-6"
      onSubmit={(e) => {
        e.preventDefault();
        start(async () => {
          const answer = await answered(addLevel(portal, table, role));
          if (!answer) return;
          if (answer.ok) setDone(role.trim());
          else setMessage(answer.message);
        });
      }}
    >
      <label className="grid max-w-sm gap-1">
        <span className="field-label mb-0!">Role</span>
        <input
          className="input w-full"
          value={role}
          maxLength={80}
          aria-invalid={message ? true : undefined}
          onChange={(e) => setRole(e.target.value)}
        />
        {message && (
          <span role="alert" className="text-error text-sm">
            {message}
          </span>
        )}
      </label>
      <ul className="list-disc pl-5">
        <li>{tied ? `People are tied to them by ${tied} already.` : "People get a field that says which of them are theirs."}</li>
        <li>The role sees, of its own: {sees.join(", ")}; of each the fields that clients read already.</li>
        <li>Role and grants are drafted: nobody sees more or less before you publish.</li>
      </ul>
      <div>
        <button type="submit" className="btn btn-primary" disabled={busy || !role.trim()}>
          Draft this role
        </button>
      </div>
    </form>
  );
}
