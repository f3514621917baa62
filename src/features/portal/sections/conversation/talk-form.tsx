"use client";
import { useState } from "react";
import { FileBox } from "@/ui/files/file-box";
import { WithUploads } from "@/ui/files/uploads";
import { useSafeForm } from "@/ui/forms/safe-form";
import { useWords } from "@/ui/words";
import { talkInPortal } from "../../records/talk-actions";

interface Props {
  table: string;
  record: string;
  /** Under which name files are sent for it, and where to. */
  files: string;
  uploads: string;
  acting: string;
  /** The agency may note something for itself. */
  notes: boolean;
  closed: string | null;
}

export function TalkForm({ table, record, files, uploads, acting, notes, closed }: Props) {
  const { state, pending, form, files: sending } = useSafeForm(talkInPortal);
  const words = useWords();
  // What was chosen stays until the message it hangs on has been sent.
  const [sent, setSent] = useState(0);
  if (state.done !== undefined && state.turn > sent) setSent(state.turn);
  return (
    <form {...form} className="grid gap-3 border-t border-base-300/60 pt-4">
      <input type="hidden" name="$table" value={table} />
      <input type="hidden" name="$id" value={record} />
      <input type="hidden" name="$acting" value={acting} />
      <label className="grid gap-1">
        <span className="field-label">{words["talk.label"]}</span>
        <textarea
          key={state.turn}
          name="words"
          rows={3}
          maxLength={10_000}
          className="textarea w-full"
          defaultValue={String(state.values.words ?? "")}
          aria-invalid={state.errors.words ? true : undefined}
        />
      </label>
      {state.errors.words && (
        <p role="alert" className="field-error">
          {state.errors.words}
        </p>
      )}
      <fieldset className="text-sm">
        <legend className="field-label">{words["talk.files-label"]}</legend>
        <WithUploads {...sending}>
          <FileBox key={sent} field={files} pictures={false} held={[]} uploads={uploads} disabled={closed !== null} />
        </WithUploads>
      </fieldset>
      {(state.message ?? closed) && <p className="alert alert-warning alert-soft">{state.message ?? closed}</p>}
      <div className="flex flex-wrap items-center gap-4">
        <button type="submit" className="btn btn-primary btn-sm" disabled={pending || closed !== null}>
          {words["talk.send"]}
        </button>
        {notes && (
          <label className="flex items-center gap-2 text-sm">
            <input key={state.turn} type="checkbox" name="inside" value="1" className="checkbox checkbox-sm" />
            {words["talk.note"]}
          </label>
        )}
      </div>
    </form>
  );
}
