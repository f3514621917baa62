/** What can be asked about a name of a host: its text records, and what its site tells about itself. */
export interface Names {
  readonly id: "system" | "stand-in";
  /** RFC 1035 section 3.3.14: each record's strings joined. Empty where there are none, null where nobody could be asked. */
  texts(name: string): Promise<readonly string[] | null>;
  /** The first few hundred characters of a file of the host; null where there is none, or no answer. */
  file(host: string, path: string): Promise<string | null>;
}
