"use client";
/** The shared button of filters, for what stands in the editor of a page. */
import type { ComponentProps } from "react";
import { FilterButton as Shared } from "@/office/filter/filter-button";
import { useOffered } from "./around";

export function FilterButton(props: Omit<ComponentProps<typeof Shared>, "portal">) {
  return <Shared {...props} portal={useOffered().portal} />;
}
