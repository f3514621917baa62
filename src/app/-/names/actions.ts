"use server";
import { revalidatePath } from "next/cache";
import { config } from "@/config";
import { onMainHost, sameOrigin } from "@/identity/requests/request";
import { namesFolder } from "@/services/names";
import { type Entry, entriesIn, keepEntries } from "@/services/names/stand-in";

const MOST = 200;

/** The demo's own page: there is nobody to be kept out of a name server that is none. */
async function open(): Promise<string> {
  const c = config();
  if (!c.demo || c.names !== "stand-in" || !(await onMainHost()) || !(await sameOrigin())) throw new Error("There is no such page here.");
  return namesFolder(c);
}

export async function addEntry(data: FormData): Promise<void> {
  const folder = await open();
  const read = (name: string): string =>
    String(data.get(name) ?? "")
      .trim()
      .slice(0, 300);
  const entry: Entry = {
    kind: data.get("kind") === "file" ? "file" : "text",
    name: read("name").replace(/^https?:\/\//, ""),
    says: read("says"),
  };
  const list = entriesIn(folder);
  if (entry.name && entry.says && list.length < MOST) keepEntries(folder, [...list, entry]);
  revalidatePath("/-/names");
}

export async function dropEntry(n: number): Promise<void> {
  const folder = await open();
  keepEntries(
    folder,
    entriesIn(folder).filter((_, i) => i !== n),
  );
  revalidatePath("/-/names");
}
