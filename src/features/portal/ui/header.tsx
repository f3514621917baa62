/** The portal's own head: the agency's mark, the company one acts for, and the lists that are open. */
import Link from "next/link";
import type { Table } from "@/core/schema/types";
import type { Membership } from "@/data/people";
import { actFor, signOut } from "../actions";

interface Props {
  base: string;
  name: string;
  monogram: string;
  tables: Table[];
  here: string;
  person: string | null;
  memberships: Membership[];
  activeId: string | null;
  readOnly: boolean;
  plans: boolean;
}

export function Header({ base, name, monogram, tables, here, person, memberships, activeId, readOnly, plans }: Props) {
  const active = memberships.find((m) => m.id === activeId);
  const at = (path: string): boolean => here === path || here.startsWith(`${path}/`) || here.startsWith(`${path}?`);
  const tab = (path: string, label: string) => (
    <Link
      key={path}
      href={base + path}
      aria-current={at(path) ? "page" : undefined}
      className="whitespace-nowrap border-b-3 border-transparent px-1 py-2.5 opacity-85 hover:opacity-100 aria-[current=page]:border-current aria-[current=page]:font-semibold aria-[current=page]:opacity-100"
    >
      {label}
    </Link>
  );
  return (
    <header style={{ background: "var(--brand)", color: "var(--brand-ink)" }}>
      <div className="mx-auto flex max-w-6xl flex-wrap items-center gap-x-4 gap-y-2 px-4 pt-4 md:px-8">
        <Link href={base || "/"} className="flex items-center gap-3">
          <span aria-hidden className="title grid size-9 place-items-center rounded-full border-2 border-current text-base font-semibold">
            {monogram}
          </span>
          <span className="title text-lg font-semibold">{name}</span>
        </Link>
        <span className="grow" />
        {person && (
          <div className="flex flex-wrap items-center gap-x-4 gap-y-1 text-sm">
            {memberships.length > 1 && !readOnly ? (
              <form action={actFor} className="flex items-center gap-2">
                <label htmlFor="membership">Acting for</label>
                <select
                  id="membership"
                  name="membership"
                  defaultValue={activeId ?? ""}
                  className="rounded border border-current bg-transparent px-2 py-1 [&>option]:text-black"
                >
                  {memberships.map((m) => (
                    <option key={m.id} value={m.id}>
                      {m.companyName ?? name}
                    </option>
                  ))}
                </select>
                <button type="submit" className="underline underline-offset-3">
                  Change
                </button>
              </form>
            ) : (
              active?.companyName && <span className="font-medium">{active.companyName}</span>
            )}
            <span>{person}</span>
            {!readOnly && (
              <form action={signOut}>
                <button type="submit" className="cursor-pointer underline underline-offset-3">
                  Sign out
                </button>
              </form>
            )}
          </div>
        )}
        {!person && !here.startsWith("/sign-in") && (
          <Link className="underline underline-offset-3" href={`${base}/sign-in`}>
            Sign in
          </Link>
        )}
      </div>
      <nav aria-label="Lists" className="mx-auto flex max-w-6xl quiet-scroll gap-x-5 overflow-x-auto px-4 md:px-8">
        {person && (
          <Link
            href={base || "/"}
            aria-current={here === "/" ? "page" : undefined}
            className="border-b-3 border-transparent px-1 py-2.5 opacity-85 aria-[current=page]:border-current aria-[current=page]:font-semibold aria-[current=page]:opacity-100"
          >
            Home
          </Link>
        )}
        {tables.map((t) => tab(`/${t.slug}`, t.name))}
        {plans && tab("/plans", "Plans")}
      </nav>
    </header>
  );
}
