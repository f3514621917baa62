/** Pictures of the brand, by the hash of their bytes: versions of the definition name them, and they are public like the page they stand on. */
export const BRAND_PICTURES =
  "CREATE TABLE sys_brand_pictures (hash TEXT PRIMARY KEY, type TEXT NOT NULL, width INTEGER NOT NULL, height INTEGER NOT NULL, bytes BLOB NOT NULL, at INTEGER NOT NULL) STRICT";
