"use client";
/** The account at the payment provider: its secrets are written here once, and only their ends are shown after. */
import { useState } from "react";
import { dropAccount, setAccount } from "../actions";
import { useTried } from "./try-first";

interface Props {
  portal: string;
  provider: string;
  site: string;
  /** Where its events are to go. */
  hookAddress: string;
  /** Null where nothing is kept yet. */
  now: { readonly mode: string; readonly secretEnd: string; readonly hookEnd: string; readonly set: string } | null;
}

export function AccountForm({ portal, provider, site, hookAddress, now }: Props) {
  const [open, setOpen] = useState(now === null);
  const [x, setX] = useState({ secret: "", hook: "" });
  const { problem, busy, attempt } = useTried();
  return (
    <div className="sheet grid gap-4 p-5 text-sm">
      {now ? (
        <p>
          <strong>{now.mode === "test" ? "A test account: no money moves." : "A live account."}</strong> Key ending in{" "}
          <code>{now.secretEnd}</code>, secret of events ending in <code>{now.hookEnd}</code>. {now.set}
        </p>
      ) : (
        <p>
          Nothing can be paid in the portal before an account at a provider is given. This installation has{" "}
          <a className="link-plain" href={site}>
            {provider}
          </a>
          .
        </p>
      )}
      {open ? (
        <>
          <p className="quiet">
            Tell {provider} to send events to <code className="break-all">{hookAddress}</code>
          </p>
          <div className="flex flex-wrap items-end gap-3">
            <label className="grid grow gap-1 font-medium">
              Secret key
              <input
                className="input input-sm w-full"
                autoComplete="off"
                value={x.secret}
                onChange={(e) => setX({ ...x, secret: e.target.value })}
              />
            </label>
            <label className="grid grow gap-1 font-medium">
              Secret of its events
              <input
                className="input input-sm w-full"
                autoComplete="off"
                value={x.hook}
                onChange={(e) => setX({ ...x, hook: e.target.value })}
              />
            </label>
            <button
              type="button"
              className="btn btn-primary btn-sm"
              disabled={busy}
              onClick={() =>
                attempt(
                  () => setAccount(portal, x),
                  () => {
                    setX({ secret: "", hook: "" });
                    setOpen(false);
                  },
                )
              }
            >
              Keep them
            </button>
          </div>
        </>
      ) : (
        <div className="flex gap-4">
          <button type="button" className="link-plain" onClick={() => setOpen(true)}>
            Give other keys
          </button>
          <button type="button" className="link-plain" disabled={busy} onClick={() => attempt(() => dropAccount(portal))}>
            Take the account away
          </button>
        </div>
      )}
      {problem && (
        <p role="alert" className="field-error">
          {problem}
        </p>
      )}
    </div>
  );
}
