/** What a section stands in while its page is laid out. */
import type { ReactNode } from "react";
import type { Section } from "@/core/pages/page";

/** A section with the mark by which the editor finds it. */
export const LaidSection = ({ section, children }: { section: Section; children: ReactNode }) => (
  <div data-laid={section.id} className="grid content-start gap-4 [&>*]:min-w-0">
    {children}
  </div>
);
