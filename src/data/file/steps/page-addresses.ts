/** Former addresses of pages lead on. */
export const PAGE_ADDRESSES = "CREATE TABLE sys_page_addresses (address TEXT PRIMARY KEY, page_id TEXT NOT NULL) STRICT;";
