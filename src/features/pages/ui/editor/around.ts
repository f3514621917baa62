/** What is offered around a page in the editor. */
import { createContext, useContext } from "react";
import type { Section } from "@/core/pages/page";
import type { OfferedTable } from "../../queries";

export interface Offered {
  readonly portal: string;
  readonly tables: readonly OfferedTable[];
  readonly people: OfferedTable;
  readonly about: OfferedTable | null;
  readonly acts: readonly {
    readonly id: string;
    readonly name: string;
    readonly table: string;
    readonly on: "add" | "change" | "talk" | "accept";
  }[];
  readonly roles: readonly { readonly id: string; readonly name: string }[];
  readonly features: readonly { readonly id: string; readonly name: string }[];
  readonly pages: readonly { readonly id: string; readonly name: string; readonly about: string | null }[];
}

export const Around = createContext<Offered | null>(null);
export function useOffered(): Offered {
  const offered = useContext(Around);
  if (!offered) throw new Error("Settings stand inside the editor, which offers what they are made of.");
  return offered;
}

export interface SettingsProps<S extends Section> {
  section: S;
  onChange: (config: S["config"]) => void;
}
