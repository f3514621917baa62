declare module "better-sqlite3-13" {
  export { default } from "better-sqlite3";
}
