"use client";
/** A picture from the device into a text, with what it shows in words. */
import { ImagePlus } from "lucide-react";
import { useState, useTransition } from "react";
import { keepPicture } from "@/office/pictures";
import { answered } from "@/ui/answered";
import { MOST_SENT, smallerPicture } from "@/ui/files/smaller-picture";

interface Props {
  portal: string;
  onAdd: (picture: { hash: string; alt: string }) => void;
}

export function AddPicture({ portal, onAdd }: Props) {
  const [open, setOpen] = useState(false);
  const [alt, setAlt] = useState("");
  const [problem, setProblem] = useState("");
  const [busy, start] = useTransition();
  const send = (file: File | undefined): void => {
    if (!file) return;
    start(async () => {
      const data = new FormData();
      const sent = await smallerPicture(file);
      if (sent.size > MOST_SENT)
        return setProblem("This picture is too large, and cannot be made smaller here. Save it as JPEG or PNG first.");
      data.set("what", "picture");
      data.set("picture", sent);
      const kept = await answered(keepPicture(portal, data));
      if (!kept) return;
      setProblem(kept.ok ? "" : kept.message);
      if (!kept.ok) return;
      onAdd({ hash: kept.hash, alt: alt.trim() });
      setOpen(false);
      setAlt("");
    });
  };
  if (!open)
    return (
      <button type="button" className="btn btn-sm w-fit" onClick={() => setOpen(true)}>
        <ImagePlus size={14} aria-hidden /> Put a picture in
      </button>
    );
  return (
    <div className="grid gap-2 rounded-box border border-base-300 p-3 text-sm">
      <label className="grid gap-1 font-medium">
        What it shows, in words
        <input className="input input-sm w-full" value={alt} maxLength={500} onChange={(e) => setAlt(e.target.value)} />
      </label>
      <p className="quiet">
        Left empty, it counts as decoration. Whoever has its address can open it: what is secret belongs into a record.
      </p>
      <input
        type="file"
        aria-label="The picture"
        accept="image/*"
        className="file-input file-input-sm w-full"
        disabled={busy}
        onChange={(e) => {
          send(e.target.files?.[0]);
          e.target.value = "";
        }}
      />
      {busy && <p className="quiet">Sending…</p>}
      {problem && (
        <p role="alert" className="field-error">
          {problem}
        </p>
      )}
      <button type="button" className="btn btn-ghost btn-sm w-fit" onClick={() => setOpen(false)}>
        Cancel
      </button>
    </div>
  );
}
