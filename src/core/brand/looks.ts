/** Looks to begin with. None is like another: in colour, ground, type, head, corners and room. */
import type { BrandSettings } from "../definition/parts/brand";

export interface Look {
  readonly id: string;
  readonly name: string;
  readonly about: string;
  readonly settings: Pick<BrandSettings, "colour" | "ground" | "head" | "titles" | "text" | "density" | "corners">;
}

export const LOOKS: readonly Look[] = [
  {
    id: "harbour",
    name: "Harbour",
    about: "A deep blue band over cool paper; plain and quick to read.",
    settings: {
      colour: "#24507a",
      ground: "#f7f7f4",
      head: "band",
      titles: "bricolage",
      text: "instrument",
      density: "middle",
      corners: "soft",
    },
  },
  {
    id: "ledger",
    name: "Ledger",
    about: "Ink and brick on cream, with a book's type and square corners.",
    settings: {
      colour: "#8c2f1b",
      ground: "#f6efe1",
      head: "line",
      titles: "literata",
      text: "literata",
      density: "airy",
      corners: "square",
    },
  },
  {
    id: "orchard",
    name: "Orchard",
    about: "Round and green on white, with room to breathe.",
    settings: {
      colour: "#2e7d4f",
      ground: "#ffffff",
      head: "paper",
      titles: "figtree",
      text: "figtree",
      density: "airy",
      corners: "round",
    },
  },
  {
    id: "observatory",
    name: "Observatory",
    about: "Night blue with amber, dense: for lists that are looked at all day.",
    settings: {
      colour: "#f0a63a",
      ground: "#141a26",
      head: "paper",
      titles: "instrument",
      text: "instrument",
      density: "close",
      corners: "soft",
    },
  },
];
