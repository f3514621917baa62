/** The statements that some work makes on all files that were opened since `hear`. */
import { statements } from "@/data/file/points";

let heard: string[] | null = null;

/** Before any file is opened. */
export const hear = (): void => {
  statements.to = (sql) => heard?.push(sql);
};

export async function statementsOf(work: () => Promise<unknown>): Promise<string[]> {
  heard = [];
  try {
    await work();
    return heard.filter((sql) => !/^(BEGIN|COMMIT|ROLLBACK|SAVEPOINT|RELEASE|PRAGMA)/i.test(sql));
  } finally {
    heard = null;
  }
}

interface Element {
  readonly type: unknown;
  readonly props: { readonly children?: unknown };
}
const isElement = (v: unknown): v is Element => typeof v === "object" && v !== null && "type" in v && "props" in v;

/** Works out a tree of server components as the framework would. What needs a browser (its hooks fail here) asks no file. */
export async function worked(v: unknown): Promise<void> {
  if (Array.isArray(v)) {
    for (const x of v) await worked(x);
    return;
  }
  const node = await v;
  if (!isElement(node)) return;
  if (typeof node.type === "function") {
    // What it makes of its children is in what it gives; one that needs a browser gives nothing here, and its children are looked at.
    const inner = await Promise.resolve()
      .then(() => ({ made: (node.type as (props: unknown) => unknown)(node.props) }))
      .catch(() => null);
    if (inner) return worked(inner.made);
  }
  for (const x of Object.values(node.props)) if (Array.isArray(x) || isElement(x)) await worked(x);
}
