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

/** The list's own pages, under whatever look. `loose` ones stand below pictures or cards, where all that is there needs no count. */
export function Pages({ at, v, address, loose = false }: Pick<LookProps, "at" | "v" | "address"> & { loose?: boolean }) {
  if (loose && v.pages <= 1) return null;
  const pager = (
    <Pager
      page={v.page}
      pages={v.pages}
      size={v.size}
      total={v.total}
      locale={localeOf(at.r).locale}
      href={(page) => address.to({ page: page === 1 ? null : String(page) })}
    />
  );
  return loose ? <div className="mt-4">{pager}</div> : pager;
}
