import type { Owner } from "@/core/access/who/viewer";
import { published } from "@/data/definition/published";
import { portalFile } from "@/data/file/open";
import { listPortals } from "@/data/installation/portals";
import { unavailable } from "@/data/installation/supervisor";
import { countOf } from "@/data/tables/count";

export interface Listed {
  readonly slug: string;
  readonly name: string;
  /** Null where it cannot be opened just now; `why` says what to do. */
  readonly figures: { readonly version: number; readonly companies: number; readonly people: number } | null;
  readonly why: string;
}

/** Others are answered in between: there may be very many. */
export async function portalsListed(owner: Owner): Promise<Listed[]> {
  const found: Listed[] = [];
  for (const p of listPortals(owner)) {
    await new Promise((next) => setImmediate(next));
    const down = unavailable(p.slug, owner.now);
    const file = down ? undefined : portalFile(p.slug);
    if (down) found.push({ slug: p.slug, name: p.name, figures: null, why: down.why });
    if (!file) continue;
    file.meta.look();
    const { version, definition } = published(file);
    const figures = { version, companies: countOf(file, "t_companies"), people: countOf(file, "t_people") };
    found.push({ slug: p.slug, name: definition.portal.name, figures, why: "" });
    file.rest?.();
  }
  return found;
}
