/** A client for TypeScript of one portal's API, as a package folder: its types are made from what the portal says of itself to this key. */
import { existsSync, mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import openapiTS, { astToString } from "openapi-typescript";
import { Refused, type Said } from "./asked";

/** Of openapi-fetch, which the client is built on: the one that Elkhorn's own stories run with. */
const FETCH = "0.17.0";

const INDEX = `/** The portal's API, typed. \`client("https://portal.example", key)\`; without a key, for a browser that is signed in. */
import createClient, { type Client } from "openapi-fetch";
import type { components, paths } from "./schema.js";

export type { components, paths };
export type Portal = Client<paths>;

export function client(portal: string, key?: string, more: { fetch?: typeof globalThis.fetch } = {}): Portal {
  const baseUrl = \`\${portal.replace(/\\/$/, "")}/api/v1\`;
  return createClient<paths>({ baseUrl, ...(key ? { headers: { authorization: \`Bearer \${key}\` } } : {}), ...more });
}
`;

const README = (title: string): string => `# ${title}

Made by \`elkhorn client\` from the portal's own description. Make it anew when the portal's tables change.

    import { client } from "elkhorn-client";

    const portal = client("https://portal.example", process.env.ELKHORN_KEY);
    const { data, error } = await portal.GET("/tables", {});
`;

export async function writeClient(document: unknown, folder: string): Promise<Said> {
  const there = join(folder, "package.json");
  if (existsSync(there) && (JSON.parse(readFileSync(there, "utf8")) as { name?: string }).name !== "elkhorn-client")
    throw new Refused(`${folder} holds another package. Choose an empty folder.`);
  const schema = astToString(await openapiTS(document as Parameters<typeof openapiTS>[0]));
  mkdirSync(folder, { recursive: true });
  const { title = "The portal" } = ((document as { info?: { title?: string } }).info ?? {}) as { title?: string };
  const manifest = {
    name: "elkhorn-client",
    version: `0.0.${(document as { info?: { version?: string } }).info?.version ?? "0"}`,
    type: "module",
    exports: "./index.ts",
    types: "./index.ts",
    dependencies: { "openapi-fetch": FETCH },
  };
  const files = {
    "package.json": `${JSON.stringify(manifest, null, 2)}\n`,
    "schema.d.ts": schema,
    "index.ts": INDEX,
    "README.md": README(title),
  };
  for (const [name, text] of Object.entries(files)) writeFileSync(join(folder, name), text);
  return { lines: [`The client is in ${folder}.`], json: { folder, files: Object.keys(files) } };
}
