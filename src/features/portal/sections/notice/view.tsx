/** A sentence that stands out, for its days. */
import type { SectionOf } from "@/core/pages/page";
import { dateIn } from "@/core/time/relative";
import { localeOf } from "../../queries";
import type { SectionProps } from "../at";
import { Dismissible } from "./dismissible";

const LOOK = { plain: "", good: "alert-success", warning: "alert-warning", trouble: "alert-error" } as const;

export function NoticeSection({ at, section }: SectionProps<SectionOf<"notice">>) {
  const { words, tone, from, until, dismissible } = section.config;
  const today = dateIn(at.r.desk.now, localeOf(at.r).timeZone);
  if (words === "" || (from && today < from) || (until && today > until)) return null;
  const said = (
    <>
      {section.title && <strong>{section.title} </strong>}
      <span>{words}</span>
    </>
  );
  const look = `alert alert-soft ${LOOK[tone]}`;
  return dismissible ? (
    <Dismissible id={`${section.id} ${words.length}`} look={look}>
      {said}
    </Dismissible>
  ) : (
    <div role={tone === "trouble" ? "alert" : "note"} className={look}>
      {said}
    </div>
  );
}
