import { Link } from "@/ui/link";

/** What publishing waits for. */
export function BrokenSafeguards({ at, sentences }: { at: string; sentences: readonly string[] }) {
  return (
    <div role="alert" className="rounded-box border border-accent px-5 py-4">
      <p className="font-semibold text-accent">
        Publishing waits: the draft breaks {sentences.length === 1 ? "a safeguard" : `${sentences.length} safeguards`}.
      </p>
      <ul className="mt-2 grid list-disc gap-1 pl-5">
        {sentences.map((s) => (
          <li key={s}>{s}</li>
        ))}
      </ul>
      <p className="mt-2">
        <Link className="link-plain font-medium" href={`${at}/safeguards`}>
          See who breaks {sentences.length === 1 ? "it" : "them"}, and with which records
        </Link>
      </p>
    </div>
  );
}
