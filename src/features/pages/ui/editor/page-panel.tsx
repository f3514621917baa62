"use client";
/** The page as a whole: what it is called, where it stands, for whom it is, and who sees it. */
import { useState } from "react";
import type { Page } from "@/core/pages/page";
import { HOME } from "@/core/pages/ready";
import { Words } from "./controls";
import { AudienceFields } from "./section-panel";

interface Props {
  page: Page;
  ready: boolean;
  aboutName: string | null;
  seenBy: readonly string[];
  onChange: (p: Page) => void;
  onAway: (forGood: boolean) => void;
  onPassphrase: (words: string | null) => void;
  /** It was ready-made once, and can be so again. */
  wasReady: boolean;
}

export function PagePanel({ page, ready, aboutName, seenBy, onChange, onAway, onPassphrase, wasReady }: Props) {
  return (
    <div className="grid gap-4">
      <div>
        <h2 className="text-base">The page</h2>
        <p className="quiet text-sm">
          {ready
            ? "Ready-made: it follows the grants until you change something on it."
            : aboutName
              ? `Shows one record of ${aboutName}.`
              : "A page of your own."}
        </p>
      </div>
      <Words label="Name" value={page.name} onChange={(name) => onChange({ ...page, name })} />
      {page.id !== HOME && (
        <Words
          label="Address"
          value={page.address}
          hint={aboutName ? "The record's own address comes after it." : "Links to an earlier address lead here, too."}
          onChange={(address) => onChange({ ...page, address })}
        />
      )}
      <AudienceFields value={page.audience} onChange={(audience) => onChange({ ...page, audience })} />
      <PassphraseBox set={page.passphrase !== null} onKeep={onPassphrase} />
      <div className="text-sm">
        <p className="font-medium">Who sees something on it</p>
        <p className="quiet">{seenBy.length > 0 ? seenBy.join(", ") : "It lists nothing, so whoever it is for sees it."}</p>
      </div>
      <div className="flex flex-wrap gap-2 border-t border-base-300 pt-3">
        {wasReady && !ready && (
          <button type="button" className="btn btn-sm" onClick={() => onAway(false)}>
            Back to the ready-made page
          </button>
        )}
        {page.id !== HOME && (
          <button type="button" className="btn btn-ghost btn-sm" onClick={() => onAway(true)}>
            Throw the page away
          </button>
        )}
      </div>
    </div>
  );
}

/** Beside the audience, never instead of a grant: for a page whose address is passed on with a word. */
function PassphraseBox({ set, onKeep }: { set: boolean; onKeep: (words: string | null) => void }) {
  const [words, setWords] = useState("");
  return (
    <div className="grid gap-2">
      <Words
        label={set ? "Other words to open it" : "Words that open it"}
        value={words}
        placeholder={set ? "set; not shown" : "none"}
        onChange={setWords}
      />
      <span className="flex gap-3">
        {words !== "" && (
          <button
            type="button"
            className="btn btn-xs"
            onClick={() => {
              onKeep(words);
              setWords("");
            }}
          >
            Ask for these words
          </button>
        )}
        {set && (
          <button type="button" className="link-plain min-h-6 text-sm" onClick={() => onKeep(null)}>
            Without words
          </button>
        )}
      </span>
    </div>
  );
}
