export declare const MODES: Readonly<Record<string, string>>;
export interface StandInPerson {
  readonly sub: string;
  readonly name: string;
  readonly email: string;
}
export interface Keys {
  readonly private: string;
  readonly cert: string;
}
export declare function newKeys(name: string): Promise<Keys>;
export declare function metadataOf(origin: string, keys: Keys): string;
export interface StandInProvider {
  readonly origin: string;
  readonly metadata: string;
  samlResponse(
    who: StandInPerson,
    asked: { id: string; consumer: string; issuer: string },
    how?: { change?: (xml: string) => string; sha1?: boolean },
  ): string;
  askedIn(request: string): { id: string; consumer: string; issuer: string };
  behave(mode: string): void;
  stop(): Promise<void>;
}
export declare function startProvider(given: {
  port: number;
  name: string;
  people: readonly StandInPerson[];
  clients: readonly { client_id: string; client_secret: string; redirect_uris: readonly string[] }[];
  keys?: Promise<Keys> | Keys;
}): Promise<StandInProvider>;
