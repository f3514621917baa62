"use client";
/** An invitation to copy: a sign-in link or a temporary password, in a text that carries the portal's address. */
import { useState, useTransition } from "react";
import { answered } from "@/ui/answered";
import { invitation } from "../../actions";

export function Invite({ portal, personId, name }: { portal: string; personId: string; name: string }) {
  const [text, setText] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [copied, setCopied] = useState(false);
  const [busy, start] = useTransition();
  const make = (by: "link" | "password") =>
    start(async () => {
      setCopied(false);
      const answer = await answered(invitation(portal, personId, by));
      if (!answer) return;
      setText("text" in answer ? answer.text : null);
      setProblem("problem" in answer ? answer.problem : null);
    });
  const copy = async () => {
    try {
      await navigator.clipboard.writeText(text ?? "");
      setCopied(true);
    } catch {
      document.querySelector<HTMLTextAreaElement>("#invitation")?.select();
    }
  };
  return (
    <div className="grid gap-3">
      <div className="flex flex-wrap gap-3">
        <button type="button" className="btn" onClick={() => make("link")} disabled={busy}>
          Invite with a sign-in link
        </button>
        <button type="button" className="btn" onClick={() => make("password")} disabled={busy}>
          Invite with a temporary password
        </button>
      </div>
      {problem && (
        <p role="alert" className="alert alert-error">
          {problem}
        </p>
      )}
      {text && (
        <div className="grid gap-2">
          <label className="field-label mb-0!" htmlFor="invitation">
            Send this to {name}. It is shown this once; making another ends this one.
          </label>
          <textarea id="invitation" readOnly rows={9} className="textarea w-full font-mono text-sm" value={text} />
          <div className="flex items-center gap-3">
            <button type="button" className="btn btn-primary" onClick={copy}>
              Copy the invitation
            </button>
            <span role="status">{copied ? "Copied." : ""}</span>
          </div>
        </div>
      )}
    </div>
  );
}
