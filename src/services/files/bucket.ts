/** Files in object storage that speaks the protocol of Amazon S3 (PutObject, GetObject, HeadObject, DeleteObject), by their hash. */
import { createReadStream } from "node:fs";
import { rm } from "node:fs/promises";
import { basename } from "node:path";
import type { Readable } from "node:stream";
import { DeleteObjectCommand, GetObjectCommand, HeadObjectCommand, PutObjectCommand, S3Client } from "@aws-sdk/client-s3";
import { type FileStore, isHash } from "./contract";
import { toPart } from "./part";

const absent = (e: unknown): boolean =>
  (e as { $metadata?: { httpStatusCode?: number } }).$metadata?.httpStatusCode === 404 || (e as { name?: string }).name === "NoSuchKey";

/** One client serves all portals, as it holds the connections. */
export function bucketAt(address: string): (folder: string) => FileStore {
  const url = new URL(address);
  const bucket = decodeURIComponent(url.pathname.slice(1));
  const client = new S3Client({
    endpoint: `${url.searchParams.get("plain") === "1" ? "http" : "https"}://${url.host}`,
    region: url.searchParams.get("region") ?? "us-east-1",
    // Buckets as part of the host's name need names of their own in the DNS; as part of the path they need nothing.
    forcePathStyle: true,
    credentials: { accessKeyId: decodeURIComponent(url.username), secretAccessKey: decodeURIComponent(url.password) },
    // Storage that is not Amazon's does not know the newer checksums; the hash in the key says what the content is.
    requestChecksumCalculation: "WHEN_REQUIRED",
    responseChecksumValidation: "WHEN_REQUIRED",
  });
  return (folder) => files(client, bucket, folder);
}

/** `folder` is the portal's own: its name is the beginning of every key, and what comes in stands in it until its hash is known. */
function files(client: S3Client, bucket: string, folder: string): FileStore {
  const at = (hash: string): { Bucket: string; Key: string } => {
    if (!isHash(hash)) throw new Error(`${JSON.stringify(hash.slice(0, 80))} is not the hash of a file.`);
    return { Bucket: bucket, Key: `${basename(folder)}/${hash}` };
  };
  const size = async (hash: string): Promise<number | undefined> => {
    const where = at(hash);
    try {
      return (await client.send(new HeadObjectCommand(where))).ContentLength;
    } catch (e) {
      if (absent(e)) return undefined;
      throw e;
    }
  };
  return {
    id: "bucket",
    async put(content, most) {
      const { path, hash, bytes } = await toPart(folder, content, most);
      try {
        if ((await size(hash)) !== bytes)
          await client.send(new PutObjectCommand({ ...at(hash), Body: createReadStream(path), ContentLength: bytes }));
        return { hash, bytes };
      } finally {
        await rm(path, { force: true });
      }
    },
    async open(hash, range) {
      const where = at(hash);
      try {
        const Range = range && `bytes=${range.from}-${range.to}`;
        const found = await client.send(new GetObjectCommand({ ...where, ...(Range ? { Range } : {}) }));
        return found.Body as Readable | undefined;
      } catch (e) {
        if (absent(e)) return undefined;
        throw e;
      }
    },
    size,
    remove: async (hash) => void (await client.send(new DeleteObjectCommand(at(hash)))),
  };
}
