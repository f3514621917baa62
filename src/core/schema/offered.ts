/** One of what a form offers to choose from. */
export interface Offered {
  readonly value: string;
  readonly label: string;
  /** What tells it from another of the same name. */
  readonly also?: string;
}

/** The first of the records that a search found. */
export interface FoundRecords {
  readonly records: readonly Offered[];
  readonly more: boolean;
}
