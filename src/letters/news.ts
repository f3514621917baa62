/** Who is told that something is new: active people who hold one of the roles, each once, by mail. */
import type { Owner } from "@/core/access/who/viewer";
import { published } from "@/data/definition/published";
import type { PortalFile } from "@/data/file/open";
import { transact } from "@/data/file/transact";
import { write } from "@/data/messages/outbox";
import { directory } from "@/data/people/directory";
import { saidOf } from "./said";

export const MOST_NEWS = 2_000;
const AT_ONCE = 100;

/** In pieces, so that nobody else waits. How many messages were written. */
export async function tellNews(
  file: PortalFile,
  owner: Owner,
  given: { readonly roles: readonly string[]; readonly words: string; readonly by: string },
  now: number,
): Promise<number> {
  const words = given.words.trim().slice(0, MOST_NEWS);
  if (words === "" || given.roles.length === 0) return 0;
  const { policy, definition } = published(file);
  const names = new Map(definition.roles.map((r) => [r.name, r.id]));
  // A role that includes one of them counts as it.
  const holds = (role: string): boolean => {
    const all = policy.closure(names.get(role) ?? role);
    return given.roles.some((x) => all.has(x));
  };
  const today = new Date(now).toISOString().slice(0, 10);
  const people = directory(file, owner, today).people.filter(
    (p) => p.status === "active" && p.email !== "" && p.memberships.some((m) => m.roles.some(holds)),
  );
  for (let i = 0; i < people.length; i += AT_ONCE) {
    transact(file, () => {
      for (const p of people.slice(i, i + AT_ONCE))
        write(file, {
          occasion: "news",
          to: { personId: p.id, email: p.email },
          said: { ...saidOf(file, p, now), by: given.by, note: words },
          link: null,
          by: owner.person?.id ?? "owner",
          now,
        });
    });
    await new Promise((done) => setImmediate(done));
  }
  return people.length;
}
