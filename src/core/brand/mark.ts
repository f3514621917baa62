/** The mark in a browser's tab: the letters of the brand on its colour, drawn here so that nothing is fetched for it. */
import { inkOn } from "./contrast";

const ENTITIES: Record<string, string> = { "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;", "'": "&apos;" };

/** The icon of a browser's tab as an SVG document: the letters on the brand's colour. */
export function tabMark({ colour, monogram }: { readonly colour: string; readonly monogram: string }): string {
  const letters = monogram.replace(/[&<>"']/g, (c) => ENTITIES[c]!);
  const size = [0, 19, 15, 11][[...monogram].length] ?? 11;
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 32 32"><rect width="32" height="32" rx="7" fill="${colour}"/><text x="16" y="16" dominant-baseline="central" text-anchor="middle" font-family="sans-serif" font-weight="700" font-size="${size}" fill="${inkOn(colour)}">${letters}</text></svg>`;
  return `data:image/svg+xml,${encodeURIComponent(svg)}`;
}
