/** One value as people read it: related records are links, what is withheld says so. */

import { Lock } from "lucide-react";
import { toWords } from "@/core/exchange/present";
import { isLink, isLinks, linkWords, type Link as RecordLink, type SeenValue } from "@/core/records";
import type { Locale } from "@/core/schema/fields/kind";
import { type Field, kindOf, single } from "@/core/schema/types";
import { LOOKS } from "./fields";
import { Link } from "./link";

interface Props {
  field: Field;
  value: SeenValue | undefined;
  locale: Locale;
  /** The address of a related record, or undefined where it has no page. */
  href?: (tableId: string, id: string) => string | undefined;
  /** In tables: no frames around choices. */
  plain?: boolean;
}

export function FieldValue({ field, value, locale, href, plain }: Props) {
  const target = field.options.target;
  if (isLink(value)) return <Related link={value} to={"id" in value && target ? href?.(target, value.id) : undefined} />;
  if (isLinks(value)) {
    return (
      <span className="flex flex-wrap gap-x-2 gap-y-1">
        {value.map((l) => (
          <Related key={"id" in l ? l.id : "withheld"} link={l} to={"id" in l && target ? href?.(target, l.id) : undefined} />
        ))}
      </span>
    );
  }
  const words = toWords(field, value, locale);
  if (words === "") return <span className="sr-only">empty</span>;
  const { show } = LOOKS[field.type];
  if (show === "tag" && !plain)
    return (
      <span className="flex flex-wrap gap-1">
        {(Array.isArray(value) ? (value as string[]) : [value as string]).map((v) => (
          <span key={v} className="tag">
            {kindOf(single(field)).words(v, field, locale)}
          </span>
        ))}
      </span>
    );
  if (show === "lines") return <span className="whitespace-pre-line">{words}</span>;
  return words;
}

function Related({ link, to }: { link: RecordLink; to: string | undefined }) {
  if ("withheld" in link) {
    return (
      <span className="quiet inline-flex items-center gap-1">
        <Lock size={13} aria-hidden /> withheld
      </span>
    );
  }
  return to ? (
    <Link className="link-plain" href={to}>
      {linkWords(link)}
    </Link>
  ) : (
    linkWords(link)
  );
}
