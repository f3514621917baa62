/** For tests of webhooks: a portal whose leads see projects and signs, and a receiver that keeps what it is sent. */
import type { HookSettings } from "@/webhooks/hooks";
import { tellDue } from "@/webhooks/tell";
import { must, type TestPortal, testPortal } from "./portal";

interface Got {
  readonly url: string;
  // biome-ignore lint/suspicious/noExplicitAny: tests look into whatever was sent
  readonly body: any;
  readonly text: string;
  readonly headers: Record<string, string>;
}

/** What came, what is answered, and what time it is there. */
export const receiver = {
  got: [] as Got[],
  staffTold: [] as string[],
  answer: (): Response | Promise<Response> => new Response("thanks"),
  now: 0,
};
/** Nothing has come yet, and all is taken. */
export function emptyReceiver(): void {
  Object.assign(receiver, { got: [], staffTold: [], answer: () => new Response("thanks") });
}

export const telling = {
  post: async (url: string, body: string, headers: Record<string, string>): Promise<Response> => {
    receiver.got.push({ url, body: JSON.parse(body), text: body, headers });
    return receiver.answer();
  },
  tellStaff: (_: unknown, hook: { name: string }, why: string): void => void receiver.staffTold.push(`${hook.name}: ${why}`),
  now: (): number => receiver.now,
};

export function world() {
  const p = testPortal({
    grants: [
      { roles: ["lead"], table: "projects", fields: ["title"] },
      { roles: ["lead"], table: "signs", fields: ["code", "project"] },
    ],
  });
  receiver.now = p.owner.now;
  return p;
}
export const settings = (p: TestPortal, more: Partial<HookSettings> = {}): HookSettings => ({
  name: "Accounting",
  url: "https://accounting.example/hook",
  kinds: ["record-added", "record-changed", "record-removed", "record-restored"],
  table: null,
  filter: null,
  role: "lead",
  company: p.company("One"),
  ...more,
});
export const change = (p: TestPortal, table: string, id: string, values: Record<string, string>) =>
  must(p.owners.change(p.table(table), id, p.values(table, values), null));
/** Tells what is due: what came of it, in its order. */
export const told = async (p: TestPortal) => {
  await tellDue(p.file, telling);
  return receiver.got.splice(0).map((g) => [g.body.type, g.body.data.id]);
};
