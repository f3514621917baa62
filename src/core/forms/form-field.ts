/** A field as a form shows it, with what it may be chosen from. Made on the server, where the viewer is known. */
import type { FieldType } from "../schema/fields";
import type { Offered } from "./offered";

export interface FormField {
  readonly id: string;
  readonly name: string;
  readonly type: FieldType;
  readonly required: boolean;
  /** Several are chosen; otherwise `value` holds one text or none. */
  readonly many: boolean;
  readonly value: readonly string[];
  readonly choices?: readonly Offered[];
  readonly hint?: string;
}
