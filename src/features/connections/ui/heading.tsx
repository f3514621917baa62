import type { ReactNode } from "react";
import { Link } from "@/ui/link";
import { ConnectionTabs } from "./tabs";

interface Props {
  at: string;
  about: ReactNode;
  /** What can be made here. */
  make: ReactNode;
}

export function ConnectionsHeading({ at, about, make }: Props) {
  return (
    <>
      <nav aria-label="Where you are" className="-mb-3 text-sm">
        <Link className="link-plain" href={`${at}/data`}>
          Data
        </Link>
      </nav>
      <div className="flex flex-wrap items-start justify-between gap-3">
        <div>
          <h1>Connections</h1>
          <p className="quiet mt-1 max-w-prose">{about}</p>
        </div>
        {make}
      </div>
      <ConnectionTabs at={at} />
    </>
  );
}
