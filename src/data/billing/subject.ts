import type { Wanted } from "@/core/billing/quote";

/** What two purchases must not both be charged for. `person` counts where something is bought for one person alone. */
export function subjectOf(wanted: Wanted, person: string | null): string {
  switch (wanted.kind) {
    case "plan":
      return "plan";
    case "method":
      return "method";
    case "invoice":
      return `invoice ${wanted.invoice}`;
    case "offer":
      return ["offer", wanted.offer, wanted.record ?? "", wanted.own ? (person ?? "") : ""].join(" ").trim();
  }
}
