/** The Detail Library: how a sign is fixed to every kind of wall, by collection. */
import type { PortalFile } from "@/data/file/open";
import { addField, addTable } from "@/data/tables/change";

const words = (...names: string[]) => names.map((name) => ({ name }));

export interface LibraryTables {
  readonly collections: string;
  readonly details: string;
}

export function makeLibraryTables(file: PortalFile): LibraryTables {
  addField(file, "t_companies", { slug: "town", name: "Town", type: "text" });
  const collections = addTable(file, {
    slug: "collections",
    name: "Collections",
    singular: "Collection",
    fields: [
      { slug: "name", name: "Name", type: "text", options: { required: true } },
      { slug: "about", name: "About", type: "long-text" },
      { slug: "cover", name: "Cover", type: "pictures" },
    ],
  });
  const details = addTable(file, {
    slug: "details",
    name: "Details",
    singular: "Detail",
    fields: [
      { slug: "title", name: "Title", type: "text", options: { required: true } },
      { slug: "collection", name: "Collection", type: "relation", options: { target: collections } },
      { slug: "fixing", name: "Fixing", type: "choice", options: { choices: words("Anchor", "Clamp", "Rail", "Post") } },
      { slug: "free", name: "Free", type: "yes-no" },
      { slug: "drawing", name: "Drawing", type: "pictures" },
      { slug: "load", name: "Load", type: "number", options: { decimals: 1, unit: "kN" } },
      { slug: "fixings", name: "Fixings", type: "number", options: { decimals: 0 } },
      { slug: "depth", name: "Depth", type: "number", options: { decimals: 0, unit: "mm" } },
      { slug: "how", name: "How it is done", type: "long-text" },
      { slug: "drawn", name: "Drawn", type: "date" },
    ],
  });
  return { collections, details };
}
