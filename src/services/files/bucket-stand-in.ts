/** Object storage for tests and for trying out: what of the protocol of Amazon S3 Elkhorn uses, over HTTP on loopback, in memory. */
import { createServer, type IncomingMessage, type Server, type ServerResponse } from "node:http";
import type { AddressInfo } from "node:net";

export interface BucketStandIn {
  /** As `ELKHORN_FILES` takes it. */
  readonly address: string;
  readonly held: ReadonlyMap<string, Buffer>;
  readonly server: Server;
}

const KEY = "elkhorn";

/** Only requests that are signed by its key are answered (AWS Signature Version 4; the signature itself is not worked out). */
const signed = (request: IncomingMessage): boolean =>
  new RegExp(`^AWS4-HMAC-SHA256 Credential=${KEY}/\\d{8}/[a-z0-9-]+/s3/aws4_request, .*Signature=[0-9a-f]{64}$`).test(
    request.headers.authorization ?? "",
  );

const refuse = (response: ServerResponse, status: number, code: string): void =>
  void response
    .writeHead(status, { "content-type": "application/xml" })
    .end(`<Error><Code>${code}</Code><Message>${code}</Message></Error>`);

export async function bucketStandIn(): Promise<BucketStandIn> {
  const held = new Map<string, Buffer>();
  const server = createServer(async (request, response) => {
    const key = decodeURIComponent(new URL(request.url ?? "/", "http://x").pathname);
    if (!signed(request)) return refuse(response, 403, "AccessDenied");
    if (!key.startsWith("/bucket/")) return refuse(response, 404, "NoSuchBucket");
    if (request.method === "PUT") {
      const chunks: Buffer[] = [];
      for await (const c of request) chunks.push(c as Buffer);
      held.set(key, Buffer.concat(chunks));
      return void response.writeHead(200).end();
    }
    if (request.method === "DELETE") {
      held.delete(key);
      return void response.writeHead(204).end();
    }
    const found = held.get(key);
    if (!found) return refuse(response, 404, "NoSuchKey");
    const range = /^bytes=(\d+)-(\d+)$/.exec(request.headers.range ?? "");
    const part = range ? found.subarray(Number(range[1]), Number(range[2]) + 1) : found;
    response.writeHead(range ? 206 : 200, { "content-length": part.length });
    response.end(request.method === "HEAD" ? undefined : part);
  });
  await new Promise<void>((done) => server.listen(0, "127.0.0.1", done));
  const { port } = server.address() as AddressInfo;
  return { address: `s3://${KEY}:secret@127.0.0.1:${port}/bucket?plain=1`, held, server };
}
