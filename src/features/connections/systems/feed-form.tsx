"use client";
import { useState, useTransition } from "react";
import { toast } from "sonner";
import { answered } from "@/ui/answered";
import { saveFeed } from "./actions";

type Every = Parameters<typeof saveFeed>[2]["every"];

interface Props {
  portal: string;
  id: string;
  every: number | null;
  gone: "leave" | "remove";
  /** The column by which records are known again; null where none does. */
  at: number | null;
  keys: readonly { readonly at: number; readonly name: string }[];
  times: readonly { readonly minutes: number; readonly words: string }[];
}

/** How often it is read, by what its records are known, and what becomes of those that it lacks. */
export function FeedForm({ portal, id, at, keys, times, ...now }: Props) {
  const [every, setEvery] = useState(now.every);
  const [gone, setGone] = useState(now.gone);
  const [key, setKey] = useState(at);
  const [busy, start] = useTransition();
  const save = (): void =>
    start(async () => {
      if (key === null) return;
      const answer = await answered(saveFeed(portal, id, { every: every as Every, gone, key }));
      if (answer && !answer.ok) toast.error(answer.messages.join(" "));
      else if (answer) toast("Saved.");
    });
  if (keys.length === 0)
    return (
      <p className="text-accent">
        None of its columns tells its records apart, so it comes in this once. Map a number, a key or a name of its own, and bring it in
        anew.
      </p>
    );
  const select = (
    label: string,
    name: string,
    value: string,
    set: (v: string) => void,
    options: readonly (readonly [string, string])[],
  ) => (
    <div>
      <label className="field-label" htmlFor={`${name}-${id}`}>
        {label}
      </label>
      <select id={`${name}-${id}`} className="select w-full" value={value} onChange={(e) => set(e.target.value)}>
        {options.map(([v, words]) => (
          <option key={v} value={v}>
            {words}
          </option>
        ))}
      </select>
    </div>
  );
  const same = every === now.every && gone === now.gone && key === at && now.every !== null;
  return (
    <div className="grid gap-4 sm:grid-cols-3">
      {select("It is read", "every", every === null ? "" : String(every), (v) => setEvery(v === "" ? null : Number(v)), [
        ["", "Only when I ask"],
        ...times.map((t) => [String(t.minutes), t.words] as const),
      ])}
      {select(
        "Its records are known by",
        "key",
        String(key ?? ""),
        (v) => setKey(Number(v)),
        keys.map((k) => [String(k.at), k.name] as const),
      )}
      {select("Records that it lacks", "gone", gone, (v) => setGone(v === "remove" ? "remove" : "leave"), [
        ["leave", "Stay here"],
        ["remove", "Go into the bin"],
      ])}
      <div className="sm:col-span-3">
        <button type="button" className="btn btn-sm" disabled={busy || same} onClick={save}>
          Save
        </button>
      </div>
    </div>
  );
}
