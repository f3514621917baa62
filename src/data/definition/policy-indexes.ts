/** Indexes that follow from the published rules, made in a thread for tables that are large. */
import { portalFile } from "../file/open";
import { indexesNow, makePolicyIndexes } from "../tables/indexes";
import { task } from "../threads";
import { published } from "./published";

export { POLICY_INDEXES } from "../tables/indexes";

export const policyIndexesTask = task("policy indexes", ({ portal }: { readonly portal: string }): number => {
  const file = portalFile(portal);
  if (!file) return 0;
  file.meta.look();
  const { policy } = published(file);
  const there = indexesNow(file);
  for (const t of policy.schema.tables) makePolicyIndexes(file, policy, t.id, there);
  return policy.schema.tables.length;
});
