/** The way in, on a page of the owner's. Whoever is in meets nothing of it. */
import type { SectionOf } from "@/core/pages/page";
import { safePath } from "../../entry";
import { sayOf } from "../../queries";
import { Door } from "../../ui/door/door";
import { headingId, type SectionProps } from "../at";

export function DoorSection({ at, section }: SectionProps<SectionOf<"door">>) {
  const { r } = at;
  if (r.viewer.kind !== "visitor" || r.waits) return null;
  return (
    <div className="sheet max-w-md p-6">
      <h2 id={headingId(section)} className="mb-4">
        {section.title || sayOf(r)("door.title")}
      </h2>
      <Door r={r} to={safePath(r.path)} joins={section.config.joins} />
    </div>
  );
}
