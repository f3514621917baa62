/** Words of the owner's, built from their tree by an allow-list. Values are the reader's to read, or nothing. */
import { Fragment, type ReactNode } from "react";
import { toWords } from "@/core/exchange/present";
import type { SectionOf } from "@/core/pages/page";
import type { RichMark, RichNode } from "@/core/text/rich";
import { brandPicture } from "@/data/brand/pictures";
import { Link } from "@/ui/link";
import { localeOf } from "../../queries";
import { type At, headingId, type SectionProps } from "../at";

export function TextSection({ at, section }: SectionProps<SectionOf<"text">>) {
  const { body } = section.config;
  return (
    <>
      {(section.title || at.head) && <Title at={at} section={section} />}
      <div className="rich max-w-prose" dir="auto">
        <Nodes at={at} of={body} />
      </div>
    </>
  );
}

function Title({ at, section }: SectionProps<SectionOf<"text">>) {
  const title = section.title || at.page.name;
  return at.head ? <h1 id={headingId(section)}>{title}</h1> : <h2 id={headingId(section)}>{title}</h2>;
}

function Nodes({ at, of }: { at: At; of: readonly RichNode[] }): ReactNode {
  return of.map((n, i) => (
    // biome-ignore lint/suspicious/noArrayIndexKey: pieces of a text have no other name, and never change places
    <Fragment key={i}>{shown(at, n)}</Fragment>
  ));
}

function shown(at: At, n: RichNode): ReactNode {
  switch (n.type) {
    case "text":
      return (n.marks ?? []).reduce<ReactNode>((inside, m) => marked(at, inside, m), n.text);
    case "value":
      return readValue(at, n.of, n.field);
    case "picture":
      return <Picture at={at} hash={n.hash} alt={n.alt} />;
    case "break":
      return <br />;
    case "rule":
      return <hr />;
    case "paragraph":
      return (
        <p>
          <Nodes at={at} of={n.content} />
        </p>
      );
    case "quote":
      return (
        <blockquote>
          <Nodes at={at} of={n.content} />
        </blockquote>
      );
    case "item":
      return (
        <li>
          <Nodes at={at} of={n.content} />
        </li>
      );
    case "bullets":
      return (
        <ul>
          <Nodes at={at} of={n.content} />
        </ul>
      );
    case "numbers":
      return (
        <ol>
          <Nodes at={at} of={n.content} />
        </ol>
      );
    case "heading": {
      const Level = `h${n.level}` as "h2" | "h3";
      return (
        <Level>
          <Nodes at={at} of={n.content} />
        </Level>
      );
    }
  }
}

/** A picture; nothing where it is gone. */
function Picture({ at: { r }, hash, alt }: { at: At; hash: string; alt: string }) {
  const picture = brandPicture(r.file, hash);
  if (!picture) return null;
  return (
    // biome-ignore lint/performance/noImgElement: made small when it was kept
    <img
      src={`${r.base}/-/brand/${hash}`}
      alt={alt}
      width={picture.width}
      height={picture.height}
      loading="lazy"
      className="h-auto max-w-full rounded-box"
    />
  );
}

function marked(at: At, inside: ReactNode, m: RichMark): ReactNode {
  if (m.type === "bold") return <strong>{inside}</strong>;
  if (m.type === "italic") return <em>{inside}</em>;
  const href = m.href ?? "";
  if (href.startsWith("/"))
    return (
      <Link className="link-plain" href={at.r.base + href || "/"}>
        {inside}
      </Link>
    );
  return (
    <a className="link-plain" href={href} rel="noopener noreferrer">
      {inside}
    </a>
  );
}

/** As far as the reader reads it by themselves: through their own record, their company's, or the page's. */
function readValue(at: At, of: "reader" | "company" | "record", field: string | null): string {
  const { r, about } = at;
  const { people, companies } = r.desk.schema;
  if (of === "reader" && field === null) return r.viewer.person?.name ?? "";
  if (of === "company" && field === null) return r.viewer.company?.name ?? "";
  const id = of === "reader" ? r.viewer.person?.id : r.viewer.company?.id;
  const table = of === "record" ? about?.table : of === "reader" ? people : companies;
  const record = of === "record" ? about?.record : id && table ? r.desk.read(table, id) : undefined;
  if (!table || !record) return "";
  const f = table.fields.find((x) => x.id === (field ?? table.labelFieldId));
  return f ? toWords(f, record.fields[f.id], localeOf(r)) : "";
}
