"use client";
/** Settings of each kind of section: one line a kind. */
import type { ComponentType } from "react";
import type { Section, SectionOf } from "@/core/pages/page";
import type { Kind } from "@/core/sections";
import type { SettingsProps } from "../around";
import { ChartPanel, FiguresPanel } from "./figures";
import { FormPanel } from "./form";
import { ListPanel, RelatedPanel } from "./list";
import { SheetPanel } from "./sheet";
import { DoorPanel, HistoryPanel, LinksPanel, NoticePanel, SearchPanel } from "./small";
import { TextPanel } from "./text";

const none = () => <p className="quiet text-sm">What it shows follows from who looks: there is nothing more to settle.</p>;

const PANELS: { readonly [K in Kind]: ComponentType<SettingsProps<SectionOf<K>>> } = {
  welcome: none,
  list: ListPanel,
  sheet: SheetPanel,
  related: RelatedPanel,
  form: FormPanel,
  figures: FiguresPanel,
  chart: ChartPanel,
  text: TextPanel,
  links: LinksPanel,
  conversation: none,
  history: HistoryPanel,
  door: DoorPanel,
  standing: none,
  search: SearchPanel,
  notice: NoticePanel,
};

export function KindPanel({ section, onChange }: { section: Section; onChange: (s: Section) => void }) {
  const Panel = PANELS[section.kind] as ComponentType<SettingsProps<Section>>;
  return <Panel section={section} onChange={(config) => onChange({ ...section, config } as Section)} />;
}
