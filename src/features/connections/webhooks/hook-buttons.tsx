"use client";
import { useRouter } from "next/navigation";
import { useState, useTransition } from "react";
import { toast } from "sonner";
import { answered } from "@/ui/answered";
import { Link } from "@/ui/link";
import { ShownOnce } from "../ui/shown-once";
import { pause, removeHook, replaceSecret, resume, tryHook } from "./actions";

interface Props {
  portal: string;
  id: string;
  name: string;
  paused: boolean;
  /** Addresses of the webhook and of their list. */
  here: string;
  list: string;
}

export function HookButtons({ portal, id, name, paused, here, list }: Props) {
  const [busy, start] = useTransition();
  const [secret, setSecret] = useState<string | null>(null);
  const [sure, setSure] = useState(false);
  const router = useRouter();
  const run = (work: () => Promise<void>) => (): void => start(work);
  const refused = (answer: { ok: true } | { ok: false; messages: string[] } | undefined | null): boolean => {
    if (answer && !answer.ok) toast.error(answer.messages.join(" "));
    return !answer?.ok;
  };
  const test = run(async () => {
    const answer = await answered(tryHook(portal, id));
    if (!answer || refused(answer) || !("said" in answer)) return;
    if (answer.taken) toast(`The test has been taken. ${answer.said}`);
    else toast.error(`The test has not been taken. ${answer.said}`);
  });
  const turn = run(async () => void refused(await answered((paused ? resume : pause)(portal, id))));
  const renew = run(async () => {
    const answer = await answered(replaceSecret(portal, id));
    if (answer && !refused(answer) && "secret" in answer) setSecret(answer.secret);
  });
  const remove = run(async () => {
    if (!refused(await answered(removeHook(portal, id)))) router.push(list);
  });
  return (
    <div className="grid max-w-full justify-items-end gap-3">
      <div className="flex flex-wrap gap-2">
        <button type="button" className="btn btn-primary" disabled={busy} onClick={test}>
          Send a test
        </button>
        <button type="button" className="btn" disabled={busy} onClick={turn}>
          {paused ? "Resume" : "Pause"}
        </button>
        <Link className="btn" href={`${here}/change`}>
          Change
        </Link>
        <button type="button" className="btn btn-ghost" disabled={busy} onClick={renew}>
          New secret
        </button>
        {sure ? (
          <button type="button" className="btn btn-error" disabled={busy} onClick={remove}>
            Remove {name} and its messages
          </button>
        ) : (
          <button type="button" className="btn btn-ghost" disabled={busy} onClick={() => setSure(true)}>
            Remove
          </button>
        )}
      </div>
      {secret && (
        <div className="sheet grid w-full max-w-xl gap-2 p-4" role="status">
          <p>The new secret, shown this once. The former one signs as well for a day.</p>
          <ShownOnce label="The new secret" value={secret} />
        </div>
      )}
    </div>
  );
}
