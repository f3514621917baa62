/** A program that talks to a portal's HTTP API: any host name, its own cookies. (fetch resolves no *.localhost.) */
import { request } from "node:http";

export interface Answer {
  readonly status: number;
  readonly headers: Record<string, string | string[] | undefined>;
  readonly text: string;
  // biome-ignore lint/suspicious/noExplicitAny: tests look into whatever came back
  readonly json: any;
}

export interface Call {
  readonly body?: unknown;
  readonly headers?: Record<string, string>;
  readonly raw?: string | Buffer;
}

export class Client {
  cookie = "";
  constructor(
    readonly port: number,
    readonly host: string,
    readonly base = "",
  ) {}

  call(method: string, path: string, c: Call = {}): Promise<Answer> {
    const body = c.raw ?? (c.body === undefined ? undefined : JSON.stringify(c.body));
    return new Promise((done, fail) => {
      const r = request(
        {
          host: "127.0.0.1",
          port: this.port,
          method,
          path: this.base + path,
          headers: {
            host: `${this.host}:${this.port}`,
            ...(this.cookie ? { cookie: this.cookie } : {}),
            ...(body !== undefined ? { "content-type": "application/json", "content-length": Buffer.byteLength(body) } : {}),
            ...c.headers,
          },
        },
        (res) => {
          const parts: Buffer[] = [];
          res.on("data", (p: Buffer) => parts.push(p));
          res.on("end", () => {
            const text = Buffer.concat(parts).toString("utf8");
            for (const set of res.headers["set-cookie"] ?? []) this.#keep(set.split(";")[0]!);
            let json: unknown;
            try {
              json = JSON.parse(text);
            } catch {
              json = undefined;
            }
            done({ status: res.statusCode ?? 0, headers: res.headers, text, json });
          });
        },
      );
      r.on("error", fail);
      if (body !== undefined) r.write(body);
      r.end();
    });
  }
  /** As browsers do: one of the same name is replaced, an empty one gone. */
  #keep(pair: string): void {
    const name = `${pair.split("=")[0]}=`;
    const others = this.cookie.split("; ").filter((c) => c && !c.startsWith(name));
    this.cookie = [...others, ...(pair === name ? [] : [pair])].join("; ");
  }

  get = (path: string, c?: Call): Promise<Answer> => this.call("GET", path, c);
  api = (path: string): Promise<Answer> => this.call("GET", `/api/v1${path}`);
}

export async function signedIn(port: number, email: string, host = "fernhill.localhost", base = ""): Promise<Client> {
  const client = new Client(port, host, base);
  const password = `${email.split("@")[0]}-reads-every-sign`;
  const answer = await client.call("POST", "/api/v1/session", { body: { email, password } });
  if (answer.status !== 200) throw new Error(`${email} could not sign in: ${answer.status} ${answer.text}`);
  return client;
}
