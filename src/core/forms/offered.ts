/** One of what a form offers to choose from. */
export interface Offered {
  readonly value: string;
  readonly label: string;
}
