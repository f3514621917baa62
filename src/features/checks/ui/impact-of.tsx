/** What publishing the draft would change for everybody, as far as it is counted. */
import type { OfficePortal } from "@/identity/requests/office-gate";
import { NotCounted, Progress } from "@/ui/progress";
import { impactOf } from "../impact";
import { Impact } from "./impact";

/** Who would see more or less once the draft is published. */
export async function ImpactOf({ p }: { p: OfficePortal }) {
  const impact = await impactOf(p);
  if (impact.state === "ready") return <Impact impact={impact.value} locale={p.live.definition.portal.locale} />;
  if (impact.state === "failed") return <NotCounted />;
  return <Progress at={`${p.at}/progress/impact`} words="Counting what everybody would gain and lose…" />;
}
