import type { IncomingMessage } from "node:http";

export function placeOf(address: string): string;
export const UNCLEAR: string;
export function caller(proxies: string | undefined): (request: IncomingMessage) => string;
