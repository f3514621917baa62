/** Addresses that accounts may have: of RFC 5322's addr-spec what is in use, without quoted parts, comments or address literals. */
const EMAIL = /^[^\s@<>"(),:;[\]\\]+@[a-z0-9](?:[a-z0-9.-]*[a-z0-9])?$/i;

/** RFC 5321 section 4.5.3.1.3 bounds a path to 256 octets with its brackets. */
export const isEmail = (text: string): boolean => text.length <= 254 && EMAIL.test(text);
