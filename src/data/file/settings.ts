/** What an owner settled for a portal beside its draft, each under its key. They are read with its small facts, so asking costs no statement. */
import type { z } from "zod";
import type { PortalFile } from "./open";
import { settings } from "./portal-tables";

/** `joining` has the terms in it, which are long, so it is looked up where somebody signs up. */
export type SettingKey = "doors" | "company pages" | "log" | "joining";

const factOf = (key: SettingKey): string => `setting: ${key}`;

/** @returns what was kept, or `atFirst` where nothing was or where it cannot be read any more */
export function settingOf<T>(file: PortalFile, key: SettingKey, shape: z.ZodType<T>, atFirst: T): T {
  const text =
    key === "joining"
      ? (file.db.prepare("SELECT value FROM sys_settings WHERE key = ?").pluck().get(key) as string | undefined)
      : file.meta.get(factOf(key));
  const parsed = text === undefined ? undefined : shape.safeParse(JSON.parse(text));
  return parsed?.success ? parsed.data : atFirst;
}

/** Within the transaction that logs it. */
export function keepSetting(file: PortalFile, key: SettingKey, value: unknown): void {
  const row = { key, value: JSON.stringify(value) };
  file.orm.insert(settings).values(row).onConflictDoUpdate({ target: settings.key, set: row }).run();
  file.meta.set(factOf(key), row.value);
}
