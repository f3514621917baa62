/** The agency's owner in the back office. What only the owner may do asks for one, so it cannot be called for anybody else. */
import type { Viewer } from "@/core/access/viewer";

export type Owner = Viewer & { readonly kind: "owner" };
