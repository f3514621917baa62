/**
 * SQLite for the Node at hand: better-sqlite3 13 from Node 22 on, whose packages hold the compiled library, and 12 on Node 20, which 13
 * does not run on. Neither loads its library before a database is opened, so the other is only a few files of JavaScript.
 */
import ForNode20 from "better-sqlite3";
import ForNode22 from "better-sqlite3-13";

const Database = Number(process.versions.node.split(".")[0]) >= 22 ? (ForNode22 as unknown as typeof ForNode20) : ForNode20;
export default Database;
