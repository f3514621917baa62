/** Unmistakable on every page of a rehearsal: striped, framed, and said in words, with the day that it is there. */
import { formatDate } from "@/core/text/format";
import { dateIn } from "@/core/time/relative";
import { rehearsalIn } from "@/data/file/clock";
import type { PortalRequest } from "@/identity/requests/request";
import { sayOf } from "../../queries";

export function RehearsalBand({ r }: { r: PortalRequest }) {
  if (!rehearsalIn(r.file)) return null;
  const say = sayOf(r);
  const day = formatDate(dateIn(r.viewer.now, r.published.definition.portal.timeZone), say.locale);
  return (
    <>
      <div className="rehearsal-frame" aria-hidden />
      <p role="status" className="rehearsal-band">
        {say("frame.rehearsal", { day })}
      </p>
    </>
  );
}
