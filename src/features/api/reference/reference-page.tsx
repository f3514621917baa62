import { sayIn } from "@/core/words/words";
import type { PortalRequest } from "@/identity/requests/request";
import { type Group, referenceOf, type Shown } from "./operations";

/** Every call of the portal's API that is open to the reader, with examples of their own tables. */
export function ReferencePage({ r, origin }: { r: PortalRequest; origin: string }) {
  const say = sayIn(r.published.definition.portal.locale);
  const groups = referenceOf(r);
  const at = `${origin}${r.base}/api/v1`;
  const nameOf = (g: Group): string => g.name ?? say("reference.common");
  return (
    <div className="grid gap-6 [&>*]:min-w-0">
      <div>
        <h1>{say("reference.title")}</h1>
        <p className="quiet mt-1 max-w-2xl">{say("reference.about")}</p>
        <p className="mt-2 break-all">
          <code>{at}</code>{" "}
          <a className="link-plain" href={`${r.base}/api/v1/openapi.json`}>
            openapi.json
          </a>
        </p>
      </div>
      <nav aria-label={say("reference.contents")}>
        <ul className="flex flex-wrap gap-x-5 gap-y-1.5">
          {groups.map((g) => (
            <li key={g.slug}>
              <a className="link-plain" href={`#${g.slug || "common"}`}>
                {nameOf(g)}
              </a>
            </li>
          ))}
        </ul>
      </nav>
      {groups.map((g) => (
        <section key={g.slug} className="grid gap-3 [&>*]:min-w-0" aria-labelledby={g.slug || "common"}>
          <h2 id={g.slug || "common"}>{nameOf(g)}</h2>
          {g.operations.map((o) => (
            <Call key={o.id} r={r} o={o} at={at} />
          ))}
        </section>
      ))}
    </div>
  );
}

function Call({ r, o, at }: { r: PortalRequest; o: Shown; at: string }) {
  const say = sayIn(r.published.definition.portal.locale);
  return (
    <details className="sheet p-4" id={o.id}>
      <summary className="cursor-pointer">
        <span className="inline-flex flex-wrap items-baseline gap-x-3">
          <span className="font-medium">{o.summary}</span>
          <code className="quiet text-sm break-all">
            {o.method} {o.path}
          </code>
        </span>
      </summary>
      <div className="mt-3 grid gap-4 [&>*]:min-w-0">
        {o.description && <p>{o.description}</p>}
        {o.parameters.length > 0 && (
          <dl className="grid gap-x-4 gap-y-1 sm:grid-cols-[max-content_1fr]">
            {o.parameters.map((p) => (
              <div key={p.name} className="contents">
                <dt>
                  <code>{p.name}</code>
                  {p.required && <span className="quiet text-sm"> {say("reference.needed")}</span>}
                </dt>
                <dd className="quiet">
                  {p.in}
                  {p.about && `: ${p.about}`}
                </dd>
              </div>
            ))}
          </dl>
        )}
        <Example title={say("reference.asked")} text={curl(o, at)} />
        {o.answer && <Example title={say("reference.answered")} text={o.answer} />}
        <ul className="text-sm">
          {o.answers.map((a) => (
            <li key={a.status}>
              <code>{a.status}</code> <span className="quiet">{a.about}</span>
            </li>
          ))}
        </ul>
      </div>
    </details>
  );
}

const Example = ({ title, text }: { title: string; text: string }) => (
  <figure>
    <figcaption className="field-label">{title}</figcaption>
    {/* biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls sideways is reached by keys (WCAG 2.2, 2.1.1) */}
    <pre className="overflow-x-auto rounded-box bg-base-200 p-3 text-sm" tabIndex={0}>
      {text}
    </pre>
  </figure>
);

/** For a shell; the key is a word of its own, so that nobody pastes theirs into a page. */
function curl(o: Shown, at: string): string {
  const method = o.method === "GET" ? "" : ` -X ${o.method}`;
  const lines = [`curl${method} '${at}${o.path}'`, `  -H "Authorization: Bearer $ELKHORN_KEY"`];
  if (o.body) lines.push(`  -H 'Content-Type: application/json'`, `  -d '${o.body.replaceAll("'", "'\\''")}'`);
  return lines.join(" \\\n");
}
