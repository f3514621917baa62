/** A field as a form shows it, with what it may be chosen from. Made on the server, where the viewer is known. */
import type { FieldType } from "../schema/fields";
import type { Offered } from "../schema/offered";

export interface FormField {
  readonly id: string;
  readonly name: string;
  readonly type: FieldType;
  readonly required: boolean;
  /** Several are chosen; otherwise `value` holds one text or none. */
  readonly many: boolean;
  readonly value: readonly string[];
  /** What it is chosen from, where that is few; a relation's records are searched instead. */
  readonly choices?: readonly Offered[];
  /** Of a relation: the records that `value` names, as the viewer sees them called. */
  readonly chosen?: readonly Offered[];
  /** For a relation: whether it also holds records that the viewer cannot see. */
  readonly withheld?: boolean;
  readonly hint?: string;
}
