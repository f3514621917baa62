/** What stands around the ways into the back office. */
import type { ReactNode } from "react";
import { Mark } from "./mark";

/** The narrow page around whatever is asked of somebody who is not in yet. */
export function Door({ title, lead, foot, children }: { title: string; lead?: string; foot?: string; children?: ReactNode }) {
  return (
    <main className="mx-auto grid min-h-dvh max-w-md content-center gap-6 px-6 py-12">
      <div className="flex items-center gap-3">
        <Mark size={40} />
        <span className="title text-2xl font-semibold">Elkhorn</span>
      </div>
      <div className="sheet p-6">
        <h1>{title}</h1>
        {lead && <p className="mt-2">{lead}</p>}
        {children && <div className="mt-5">{children}</div>}
      </div>
      {foot && <p className="quiet text-sm">{foot}</p>}
    </main>
  );
}
