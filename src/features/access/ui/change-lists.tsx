import { Link } from "@/ui/link";
import type { Changes } from "../queries";

/** The page as its first sentence calls it. */
const nameOf = (c: Changes, id: string): string => c.pages.find((x) => x.page === id)!.name;

/** Changes of roles, grants, walls and safeguards as sentences, by kind. */
export function ChangeLists({ changes: c, at }: { changes: Changes; at?: string }) {
  const kinds: [string, readonly string[]][] = [
    ["Roles", c.roles],
    ["Grants added", c.added],
    ["Grants removed", c.removed],
    ["Grants changed", c.changed.map((x) => `Was: ${x.before} Will be: ${x.after}`)],
    ["Acts", c.acts],
    ["Walls", c.walls],
    ["Safeguards", c.safeguards],
    ["Pages", c.pages.map((x) => x.words)],
    ["Brand", c.brand],
    ["Plans", c.plans],
  ];
  return kinds.map(([title, lines]) =>
    lines.length === 0 ? null : (
      <section key={title} className="sheet p-5" aria-label={title}>
        <h2>{title}</h2>
        <ul className="mt-2 grid list-disc gap-1.5 pl-5">
          {lines.map((x) => (
            <li key={x}>{x}</li>
          ))}
        </ul>
        {title === "Pages" && at && (
          <p className="mt-3 flex flex-wrap gap-x-4 gap-y-1 text-sm">
            {[...new Set(c.pages.flatMap((x) => x.page ?? []))].map((id) => (
              <Link key={id} className="link-plain" href={`${at}/pages/${encodeURIComponent(id)}/before`}>
                Look at {nameOf(c, id)} before and after
              </Link>
            ))}
          </p>
        )}
      </section>
    ),
  );
}
