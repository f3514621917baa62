/** A section as the editor lists it. */
import type { Section } from "@/core/pages/page";

export interface Laid {
  readonly section: Section;
  /** What it is called where it has no title. */
  readonly name: string;
  readonly problems: readonly string[];
  /** Why the chosen person does not meet it; null where they do. */
  readonly hidden: string | null;
}
