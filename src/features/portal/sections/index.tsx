/** How each kind of section is shown: one line a kind. */
import type { ComponentType } from "react";
import type { SectionOf } from "@/core/pages/page";
import type { Kind } from "@/core/sections";
import type { SectionProps } from "./at";
import { ChartSection } from "./chart/view";
import { ConversationSection } from "./conversation/view";
import { DoorSection } from "./door/view";
import { FiguresSection } from "./figures/view";
import { FormSection } from "./form/view";
import { HistorySection } from "./history/view";
import { LinksSection } from "./links/view";
import { ListSection } from "./list/view";
import { NoticeSection } from "./notice/view";
import { RelatedSection } from "./related/view";
import { SearchSection } from "./search/view";
import { SheetSection } from "./sheet/view";
import { StandingSection } from "./standing/view";
import { TextSection } from "./text/view";
import { WelcomeSection } from "./welcome/view";

export const VIEWS: { readonly [K in Kind]: ComponentType<SectionProps<SectionOf<K>>> } = {
  welcome: WelcomeSection,
  list: ListSection,
  sheet: SheetSection,
  related: RelatedSection,
  form: FormSection,
  figures: FiguresSection,
  chart: ChartSection,
  text: TextSection,
  links: LinksSection,
  conversation: ConversationSection,
  history: HistorySection,
  door: DoorSection,
  standing: StandingSection,
  search: SearchSection,
  notice: NoticeSection,
};
