import { expect, it } from "vitest";
import { newId } from "./ids";

it("makes version 7 ids (RFC 9562, section 5.7), all different, whose time rises", () => {
  const ids = Array.from({ length: 20_000 }, newId);
  expect(new Set(ids).size).toBe(ids.length);
  for (const id of ids) expect(id).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-7[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
  const times = ids.map((id) => Number.parseInt(id.replaceAll("-", "").slice(0, 12), 16));
  expect(times).toEqual([...times].sort((a, b) => a - b));
  expect(Math.abs(times[0]! - Date.now())).toBeLessThan(60_000);
});
