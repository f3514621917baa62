"use client";
/** Features: what plans open, by names that clients understand. */
import { useState } from "react";
import { dropFeature, saveFeature } from "../actions";
import { useTried } from "./try-first";

interface Props {
  portal: string;
  revision: number;
  features: readonly { readonly id: string; readonly name: string; readonly needed: string }[];
}

export function FeatureList({ portal, revision, features }: Props) {
  const { problem, busy, attempt } = useTried();
  const [name, setName] = useState("");
  return (
    <div className="grid gap-3">
      <ul className="sheet divide-y divide-base-300/60">
        {features.map((f) => (
          <li key={f.id} className="flex flex-wrap items-center justify-between gap-3 px-4 py-2">
            <label className="flex min-w-0 grow flex-wrap items-center gap-x-3 gap-y-1">
              <span className="sr-only">The feature {f.name} is called</span>
              <input
                key={f.name}
                className="input input-sm"
                defaultValue={f.name}
                maxLength={80}
                onBlur={(e) =>
                  e.target.value !== f.name && attempt(() => saveFeature(portal, revision, { id: f.id, name: e.target.value }))
                }
              />
              <span className="quiet text-sm">{f.needed}</span>
            </label>
            <button type="button" className="link-plain min-h-6 text-sm" onClick={() => attempt(() => dropFeature(portal, revision, f.id))}>
              Take away<span className="sr-only"> the feature {f.name}</span>
            </button>
          </li>
        ))}
        <li className="flex flex-wrap items-center gap-3 px-4 py-2">
          <input
            aria-label="Name of a new feature"
            className="input input-sm"
            placeholder="such as reports"
            value={name}
            maxLength={80}
            onChange={(e) => setName(e.target.value)}
          />
          <button
            type="button"
            className="btn btn-sm"
            disabled={busy || name.trim() === ""}
            onClick={() =>
              attempt(
                () => saveFeature(portal, revision, { id: null, name }),
                () => setName(""),
              )
            }
          >
            Add the feature
          </button>
        </li>
      </ul>
      {problem && (
        <p role="alert" className="field-error">
          {problem}
        </p>
      )}
    </div>
  );
}
