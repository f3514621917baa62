import { Plus } from "lucide-react";
import type { OfficePortal } from "@/identity/requests/office-gate";
import { openCount } from "@/office/sources/back/queue";
import { adopt, type Feed, feedsOf, runsOf } from "@/office/sources/feeds";
import { adapterOf, sourcesOf } from "@/office/sources/sources";
import { plural } from "@/office/words";
import { Empty } from "@/ui/empty";
import { FramedTable } from "@/ui/framed-table";
import { Link } from "@/ui/link";
import { ConnectionsHeading } from "../ui/heading";
import { agoWords } from "./words";

/** Other systems whose data comes in, with what is fresh, late or failing. */
export function SystemsPage({ p }: { p: OfficePortal }) {
  const sources = sourcesOf(p.file, p.owner);
  return (
    <div className="grid gap-5 [&>*]:min-w-0">
      <ConnectionsHeading
        at={p.at}
        about="Data that stands elsewhere comes in and is kept up to date: from a file at a web address, a database, or a records system. What people change here can go back."
        make={
          <Link href={`${p.at}/connections/systems/new`} className="btn btn-primary">
            <Plus size={16} aria-hidden /> Connect a system
          </Link>
        }
      />
      {sources.length === 0 ? (
        <div className="sheet">
          <Empty title="No other system yet">
            You say where it is and what opens it, choose its tables, and map them as you map a file.
          </Empty>
        </div>
      ) : (
        <FramedTable columns={[{ name: "System" }, { name: "What comes in" }, { name: "State" }]}>
          {sources.map((s) => {
            const feeds = feedsOf(p.file, s.id).map((f) => adopt(p.file, p.owner, f));
            return (
              <tr key={s.id}>
                <td>
                  <Link className="link-plain font-medium" href={`${p.at}/connections/systems/${s.id}`}>
                    {s.name}
                  </Link>
                  <span className="quiet block text-sm">{adapterOf(s.kind).name}</span>
                </td>
                <td data-label="What comes in">
                  {feeds.length === 0 ? <span className="quiet">Nothing yet</span> : feeds.map((f) => f.name).join(", ")}
                </td>
                <td data-label="State">
                  <div>
                    {feeds.map((f) => (
                      <FeedState key={f.id} p={p} f={f} />
                    ))}
                  </div>
                </td>
              </tr>
            );
          })}
        </FramedTable>
      )}
    </div>
  );
}

const LATE = 2;

/** Fresh, late, failing, paused, or not brought in yet; and what has not gone back. */
export function FeedState({ p, f }: { p: OfficePortal; f: Feed }) {
  const [waiting, asked] = [openCount(p.file, f.id, "waiting"), openCount(p.file, f.id, "asked")];
  return (
    <>
      <ReadState p={p} f={f} />
      {waiting > 0 && <span className="block text-sm">{plural(p, waiting, "change is", "changes are")} on the way there</span>}
      {asked > 0 && (
        <span className="block text-sm font-medium text-accent">{plural(p, asked, "change is", "changes are")} for you to decide</span>
      )}
    </>
  );
}

export function ReadState({ p, f }: { p: OfficePortal; f: Feed }) {
  const now = Date.now();
  if (!f.plan && f.importId !== null) return <span className="block">Waits to be mapped</span>;
  if (f.pausedAt !== null)
    return (
      <span className="block">
        <span className="font-medium">Paused</span>
        {f.pausedWhy && <span className="block text-sm text-accent">{f.pausedWhy}</span>}
      </span>
    );
  const runs = runsOf(p.file, f.id, 20);
  const last = runs[0];
  const good = runs.find((r) => r.state === "done");
  if (last?.state === "running")
    return <span className="block">{f.plan ? "Is being read" : `Is being fetched: ${plural(p, last.added, "row", "rows")} so far`}</span>;
  if (last?.state === "failed")
    return (
      <span className="block">
        <span className="font-medium text-accent">Failing</span>
        {last.message && <span className="block text-sm text-accent">{last.message}</span>}
      </span>
    );
  if (!f.plan) return <span className="block">Is being fetched</span>;
  if (!good) return <span className="block">Brought in once by hand</span>;
  const late = f.every !== null && good.endedAt !== null && now - good.endedAt > LATE * f.every * 60_000;
  return (
    <span className="block">
      {late ? <span className="font-medium text-accent">Late</span> : "Fresh"}
      <span className="quiet">, read {agoWords(good.endedAt ?? good.at, now)}</span>
    </span>
  );
}
