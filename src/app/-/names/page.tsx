import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { config } from "@/config";
import { onMainHost } from "@/identity/requests/request";
import { namesFolder } from "@/services/names";
import { entriesIn } from "@/services/names/stand-in";
import { addEntry, dropEntry } from "./actions";

export const metadata: Metadata = { title: "The stand-in name server" };

/** What it answers, and the setting of it: in a demo alone, since whoever writes here owns every name. */
export default async function Page() {
  const c = config();
  if (!c.demo || c.names !== "stand-in" || !(await onMainHost())) notFound();
  const list = entriesIn(namesFolder(c));
  return (
    <main className="mx-auto grid max-w-2xl gap-5 px-4 py-8">
      <div>
        <h1>The stand-in name server</h1>
        <p className="quiet mt-1">What an agency would set at its registrar, or put on its web server. Elkhorn asks here in this demo.</p>
      </div>
      <ul className="grid gap-3">
        {list.map((e, i) => (
          <li key={`${e.kind} ${e.name} ${e.says}`} className="sheet flex items-start justify-between gap-3 p-4">
            <p className="min-w-0 break-all">
              <span className="quiet">{e.kind === "text" ? "Text record" : "File"}</span> {e.name}
              <br />
              <span className="font-mono text-sm">{e.says}</span>
            </p>
            <form action={dropEntry.bind(null, i)}>
              <button type="submit" className="btn btn-ghost btn-sm" aria-label={`Remove ${e.name}`}>
                Remove
              </button>
            </form>
          </li>
        ))}
        {list.length === 0 && <li className="quiet">Nothing is set yet.</li>}
      </ul>
      <form action={addEntry} className="sheet grid gap-4 p-5">
        <div>
          <label className="field-label" htmlFor="kind">
            What
          </label>
          <select id="kind" name="kind" className="select">
            <option value="text">A text record (TXT)</option>
            <option value="file">A file on a web server</option>
          </select>
        </div>
        <div>
          <label className="field-label" htmlFor="name">
            Name, or the file's address
          </label>
          <input id="name" name="name" className="input w-full" required />
        </div>
        <div>
          <label className="field-label" htmlFor="says">
            What it says
          </label>
          <input id="says" name="says" className="input w-full" required />
        </div>
        <div>
          <button type="submit" className="btn btn-primary">
            Set it
          </button>
        </div>
      </form>
    </main>
  );
}
