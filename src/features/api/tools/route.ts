/** One request of an assistant, answered by itself: nothing is kept between two. */
import { WebStandardStreamableHTTPServerTransport } from "@modelcontextprotocol/sdk/server/webStandardStreamableHttp.js";
import { Desk } from "@/data/records/desk";
import { Problem } from "../problem";
import type { ApiRequest } from "../route";
import { toolServer } from "./server";

/** POST of the Model Context Protocol. 401 without a key, 403 with one that is not for assistants. */
export async function postTools(r: ApiRequest): Promise<Response> {
  if (!r.viewer.key)
    throw new Problem("not-signed-in", "An assistant comes with a key, in the Authorization header.", undefined, {
      "www-authenticate": 'Bearer realm="portal"',
    });
  if (!r.viewer.key.tools) throw new Problem("not-allowed", "This key is not for assistants. The owner can make one that is.");
  const server = toolServer({ ...r, desk: new Desk(r.file, r.published.policy, r.viewer, "tools") });
  const transport = new WebStandardStreamableHTTPServerTransport({ enableJsonResponse: true });
  await server.connect(transport);
  try {
    const answer = await transport.handleRequest(r.request);
    return new Response(await answer.text(), {
      status: answer.status,
      headers: { ...Object.fromEntries(answer.headers), "cache-control": "private, no-store" },
    });
  } finally {
    await server.close();
  }
}
