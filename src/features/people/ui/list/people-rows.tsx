"use client";
import { Fragment } from "react";
import { Link } from "@/ui/link";
import type { PersonRow } from "../../queries";

interface PeopleRowsProps {
  readonly rows: readonly PersonRow[];
  readonly grouped: boolean;
  readonly chosen: ReadonlySet<string>;
  readonly choose: (ids: readonly string[], on: boolean) => void;
  readonly at: string;
}

/** People, under their groups. */
export function PeopleRows({ rows, grouped, chosen, choose, at }: PeopleRowsProps) {
  return (
    <tbody>
      {rows.map((x, i) => (
        <Fragment key={x.id}>
          {grouped && x.group !== rows[i - 1]?.group && (
            <tr>
              <th scope="rowgroup" colSpan={5} className="bg-base-200 text-left font-semibold max-sm:block max-sm:w-full">
                {x.group}
              </th>
            </tr>
          )}
          <tr>
            <td>
              <div className="min-w-0 grow text-left">
                <span className="flex items-center gap-3">
                  <input
                    type="checkbox"
                    className="checkbox checkbox-sm"
                    aria-label={`Choose ${x.name}`}
                    checked={chosen.has(x.id)}
                    onChange={(e) => choose([x.id], e.target.checked)}
                  />
                  <Link className="link-plain font-medium" href={`${at}/${x.id}`}>
                    {x.name}
                  </Link>
                </span>
                <span className="quiet block pl-8 text-sm">{x.email}</span>
              </div>
            </td>
            <td data-label="Belongs to" className="max-w-72! max-sm:max-w-none!">
              {(grouped ? x.roles : x.belongs) ?? <span className="font-medium text-accent">no company: they would see nothing</span>}
            </td>
            <td data-label="Comes in by">{x.way}</td>
            <td data-label="Here since" className="whitespace-nowrap">
              {x.since}
            </td>
            <td data-label="Standing">
              <span className={`tag ${x.standing === "awaiting approval" ? "border-accent! text-accent" : ""}`}>{x.standing}</span>
              {x.more && <span className="quiet block text-sm whitespace-normal">{x.more}</span>}
            </td>
          </tr>
        </Fragment>
      ))}
    </tbody>
  );
}
