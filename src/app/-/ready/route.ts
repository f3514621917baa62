/** Whether requests should be sent here: the installation's file can be read, and the process is not about to end. */
import { readiness } from "@/server/ready";

export const dynamic = "force-dynamic";

export function GET(): Response {
  const problem = readiness();
  return Response.json(problem ? { status: "not ready", problem } : { status: "ready" }, {
    status: problem ? 503 : 200,
    headers: { "cache-control": "no-store" },
  });
}
