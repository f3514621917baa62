/** One filling-in of a form adds once, however often it arrives: pressed twice, sent again, resumed after the line broke. */
import { createHash } from "node:crypto";
import { eq, lt } from "drizzle-orm";
import { actorOf, actorText } from "@/core/events/event";
import { ok, type Result } from "@/core/result";
import type { Access } from "../../access";
import { fillings } from "../../file/portal-tables";
import { transact } from "../../file/transact";
import type { WriteError } from "./incoming";

const LASTS = 2 * 86_400_000;

/** `key` is the form's own, made where it was opened; it counts for its sender alone. An answer that was a refusal is tried anew. */
export function addOnce(
  { file, viewer }: Access,
  key: string,
  add: () => Result<{ id: string }, WriteError>,
): Result<{ id: string; again: boolean }, WriteError> {
  const stored = createHash("sha256")
    .update(`${actorText(actorOf(viewer))} ${key}`)
    .digest("base64url");
  return transact(file, (): Result<{ id: string; again: boolean }, WriteError> => {
    const there = file.orm.select({ id: fillings.recordId }).from(fillings).where(eq(fillings.key, stored)).get();
    if (there) return ok({ id: there.id, again: true });
    const done = add();
    if (!done.ok) return done;
    file.orm
      .delete(fillings)
      .where(lt(fillings.at, viewer.now - LASTS))
      .run();
    file.orm.insert(fillings).values({ key: stored, recordId: done.value.id, at: viewer.now }).run();
    return ok({ id: done.value.id, again: false });
  });
}
