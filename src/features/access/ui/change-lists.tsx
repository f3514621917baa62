import type { Changes } from "../queries";

/** Changes of roles, grants, walls and safeguards as sentences, by kind. */
export function ChangeLists({ changes: c }: { changes: Changes }) {
  const kinds: [string, readonly string[]][] = [
    ["Roles", c.roles],
    ["Grants added", c.added],
    ["Grants removed", c.removed],
    ["Grants changed", c.changed.map((x) => `Was: ${x.before} Will be: ${x.after}`)],
    ["Walls", c.walls],
    ["Safeguards", c.safeguards],
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
      </section>
    ),
  );
}
