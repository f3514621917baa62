/** What every look of a list is given, and the pages below it. */
import type { Section } from "@/core/pages/page";
import type { Field, Table } from "@/core/schema/types";
import type { ListSettings } from "@/core/sections/list";
import { Pager } from "@/ui/pager";
import { localeOf } from "../../queries";
import type { At } from "../at";
import type { ListAddress } from "./address";
import type { ListView } from "./load";

export interface LookProps {
  readonly at: At;
  readonly section: Section;
  readonly table: Table;
  readonly settings: ListSettings;
  readonly v: ListView;
  readonly address: ListAddress;
  readonly through: Through | null;
}
export interface Through {
  readonly field: Field;
  readonly id: string;
}

/** The list's own pages, under whatever look. */
export function Pages({ at, v, address }: Pick<LookProps, "at" | "v" | "address">) {
  return (
    <Pager
      page={v.page}
      pages={v.pages}
      size={v.size}
      total={v.total}
      locale={localeOf(at.r).locale}
      href={(page) => address.to({ page: page === 1 ? null : String(page) })}
    />
  );
}
