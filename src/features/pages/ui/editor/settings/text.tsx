"use client";
/** Words of one's own. The editor's script comes when a text is opened; what is kept is our own tree, not its HTML. */
import dynamic from "next/dynamic";
import type { SectionOf } from "@/core/pages/page";
import type { SettingsProps } from "../around";

const Writing = dynamic(() => import("./writing").then((m) => m.Writing), {
  ssr: false,
  loading: () => <p className="quiet text-sm">Opening…</p>,
});

export function TextPanel({ section, onChange }: SettingsProps<SectionOf<"text">>) {
  return <Writing key={section.id} body={section.config.body} onChange={(body) => onChange({ body: [...body] })} />;
}
