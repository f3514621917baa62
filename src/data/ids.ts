/** Ids are UUIDv7 (RFC 9562 section 5.7): unguessable in practice, and in the order of their making. */
import { v7 as uuid } from "uuid";

export const newId = (): string => uuid();
