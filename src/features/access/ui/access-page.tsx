import { Plus } from "lucide-react";
import type { Grant, Wall } from "@/core/access/rules";
import type { Schema, Table } from "@/core/schema/types";
import { draftMoves } from "@/data/definition/versions";
import type { OfficePortal } from "@/identity/requests/office-gate";
import type { AccessView } from "@/office/checking";
import { DraftSteps } from "@/office/ui/draft-steps";
import { Link } from "@/ui/link";
import { NotCounted, Progress } from "@/ui/progress";
import { UndoableButton } from "@/ui/undoable-button";
import { removeGrant, restoreGrant } from "../actions";
import { holdersOf } from "../holders";
import { accessView, changeWords, fieldWords, grantLine, opensWords, tallyOf, wallChoices } from "../queries";
import { Acts } from "./acts";
import { FieldChoice } from "./field-choice";
import { GrantsByRole } from "./grants-by-role";
import { Roles } from "./roles";
import { WallPicker } from "./wall-picker";

/** The room's own part of the draft: its undo leaves the others alone. */
const ACCESS = ["access"] as const;

interface Props {
  p: OfficePortal;
  params: { slug: string };
  search: { by?: string };
}

/** The draft's roles, walls and grants, by table or by role. */
export async function AccessPage({ p, search }: Props) {
  const v = accessView(p);
  const { definition: d, schema } = v;
  const by = search.by === "role" ? "role" : "table";
  const tally = await tallyOf(p, v);
  const opens = tally.state === "ready" ? opensWords(v, tally.value) : () => "";
  return (
    <div className="grid gap-8 [&>*]:min-w-0">
      <div className="flex flex-wrap items-start justify-between gap-3">
        <div>
          <h1>Access</h1>
          <p className="quiet mt-1 max-w-prose">
            Closed until a grant opens it. The wall comes first and no grant opens it; grants add up, and none takes away. Changes here are
            a draft until you publish them.
          </p>
        </div>
        <DraftSteps portal={p.slug} revision={v.revision} parts={ACCESS} {...draftMoves(p.file, p.owner, ACCESS)} />
      </div>
      <section aria-labelledby="grants" className="grid gap-4 [&>*]:min-w-0">
        <div className="flex flex-wrap items-center justify-between gap-3">
          <h2 id="grants">{by === "table" ? "Walls and grants" : "Grants, role by role"}</h2>
          <div className="flex flex-wrap items-center gap-x-6 gap-y-2">
            <FieldChoice at={p.at} schema={schema} />
            <nav aria-label="Reading" className="join">
              {(["table", "role"] as const).map((x) => (
                <Link
                  key={x}
                  href={`${p.at}/access${x === "role" ? "?by=role" : ""}`}
                  aria-current={x === by ? "true" : undefined}
                  className={`btn btn-sm join-item ${x === by ? "btn-primary" : ""}`}
                >
                  By {x}
                </Link>
              ))}
            </nav>
          </div>
        </div>
        {tally.state === "working" && <Progress at={`${p.at}/progress/tally`} words="Counting what each grant opens…" />}
        {tally.state === "failed" && <NotCounted />}
        {by === "role" && <GrantsByRole v={v} at={p.at} opens={opens} />}
        {(by === "table" ? schema.tables : []).map((t) => {
          const grants = d.grants.filter((g) => g.table === t.id);
          const wall = d.walls[t.id] ?? { kind: "agency-only" as const };
          return <TableAccess key={t.id} t={t} p={p} v={v} wall={wall} schema={schema} grants={grants} opens={opens} />;
        })}
      </section>
      <Acts v={v} portal={p.slug} />
      <Roles v={v} at={p.at} portal={p.slug} holders={holdersOf(p, v)} />
    </div>
  );
}

interface TableAccessProps {
  readonly t: Table;
  readonly p: OfficePortal;
  readonly v: AccessView;
  readonly wall: Wall;
  readonly schema: Schema;
  readonly grants: readonly Grant[];
  readonly opens: (grant: string) => string;
}

/** One table: its wall and its grants. */
function TableAccess({ t, p, v, wall, schema, grants, opens }: TableAccessProps) {
  return (
    <section className="sheet" aria-labelledby={`t-${t.id}`}>
      <div className="grid items-center gap-3 border-b border-base-300 px-4 py-3 md:grid-cols-[11rem_1fr_auto]">
        <h3 id={`t-${t.id}`} className="font-semibold">
          {t.name}
        </h3>
        <WallPicker
          portal={p.slug}
          tableId={t.id}
          name={t.name}
          revision={v.revision}
          current={JSON.stringify(wall)}
          choices={wallChoices(schema, t)}
        />
        <span className="flex gap-2">
          {grants.length > 0 && (
            <Link className="btn btn-ghost btn-sm" href={`${p.at}/access/fields/${t.slug}`}>
              Fields
            </Link>
          )}
          <Link className="btn btn-sm" href={`${p.at}/access/grants/new?table=${t.slug}`}>
            <Plus size={14} aria-hidden /> Add a grant
          </Link>
        </span>
      </div>
      {grants.length === 0 ? (
        <p className="quiet px-4 py-3">No grant: nobody but the owner sees {t.name}.</p>
      ) : (
        <ul className="divide-y divide-base-300/60">
          {grants.map((g) => (
            <li key={g.id} className="flex flex-wrap items-start justify-between gap-x-4 gap-y-1 px-4 py-2.5">
              <div className="min-w-0 flex-1 basis-80">
                <p>{grantLine(v, g)}</p>
                {v.policy.broken.has(g.id) && (
                  <p className="text-sm font-medium text-accent">Broken, so it opens nothing: {v.policy.broken.get(g.id)!.join(" ")}</p>
                )}
                <p className="quiet text-sm">
                  {opens(g.id)} {fieldWords(v, g)} {changeWords(v, g)}
                </p>
              </div>
              <div className="flex gap-1">
                <Link className="btn btn-ghost btn-sm" href={`${p.at}/access/grants/${g.id}`}>
                  Change
                </Link>
                <UndoableButton
                  act={removeGrant.bind(null, p.slug, g.id, v.revision)}
                  undo={restoreGrant.bind(null, p.slug)}
                  done="The grant is out of the draft."
                  label={`Remove: ${grantLine(v, g)}`}
                >
                  Remove
                </UndoableButton>
              </div>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
