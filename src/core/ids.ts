/** Ids that must not be taken for one another, or for what people type. */
declare const of: unique symbol;
type Id<What extends string> = string & { readonly [of]: What };

/** A portal's, for good. */
export type PortalId = Id<"portal">;
