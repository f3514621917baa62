import type { Version } from "@/data/definition/versions";
import { SafeForm } from "@/ui/forms/safe-form";
import { FramedTable } from "@/ui/framed-table";
import { Link } from "@/ui/link";
import { bringVersionBack } from "../actions";

interface Props {
  portal: string;
  at: string;
  revision: number;
  live: number;
  list: readonly Version[];
  locale: string;
  timeZone: string;
}

/** Who published what, when and why; an earlier version can be made the draft again. */
export function Versions({ portal, at, revision, live, list, locale, timeZone }: Props) {
  const when = new Intl.DateTimeFormat(locale, { dateStyle: "medium", timeStyle: "short", timeZone });
  return (
    <section aria-labelledby="versions" className="grid gap-3">
      <h2 id="versions">Versions</h2>
      <FramedTable
        columns={[
          { name: "Version", num: true },
          { name: "Published" },
          { name: "By" },
          { name: "Note", className: "w-1/2" },
          { name: "Go back", unseen: true },
        ]}
      >
        {list.map((v) => (
          <tr key={v.version}>
            <td className="num">
              <Link className="link-plain" href={`${at}/publish/${v.version}`} aria-label={`What version ${v.version} changed`}>
                {v.version}
              </Link>
            </td>
            <td data-label="Published">{when.format(new Date(v.at))}</td>
            <td data-label="By">{v.by}</td>
            <td data-label="Note" className="max-w-none! whitespace-normal!">
              {v.note || <span className="quiet">none</span>}
            </td>
            <td className="num">
              {v.version === live ? (
                <span className="tag">live</span>
              ) : (
                <SafeForm action={bringVersionBack.bind(null, portal)}>
                  <input type="hidden" name="revision" value={revision} />
                  <input type="hidden" name="version" value={v.version} />
                  <button type="submit" className="btn btn-ghost btn-xs">
                    Make it the draft
                  </button>
                </SafeForm>
              )}
            </td>
          </tr>
        ))}
      </FramedTable>
    </section>
  );
}
