/** One value as people read it: related records are links, what is withheld says so. */

import { Lock, Paperclip } from "lucide-react";
import { toWords } from "@/core/exchange/present";
import type { Locale } from "@/core/schema/fields/kind";
import { holdsEmail, holdsTelephone, holdsWebAddress } from "@/core/schema/fields/natures";
import { type FileRef, isFiles, isLink, isLinks, linkWords, type Link as RecordLink, type SeenValue } from "@/core/schema/seen";
import { type Field, kindOf, single } from "@/core/schema/types";
import { LOOKS } from "./forms/fields";
import { Link } from "./link";

interface Props {
  field: Field;
  value: SeenValue | undefined;
  locale: Locale;
  /** The address of a related record, or undefined where it has no page. */
  href?: (tableId: string, id: string) => string | undefined;
  /** In tables: no frames around choices. */
  plain?: boolean;
  /** What addresses of files stand below: the portal's base, or its place in the back office. */
  filesAt?: string;
  /** Within something that is pressed itself: nothing in it is a link, and all of it is one line. */
  still?: boolean;
  /** The address that a telephone dials; numbers are plain text where nobody says. */
  dial?: ((text: string, country: string | undefined) => string | null) | undefined;
}

/** A field's value as it is read, with its links, files and unit. */
export function FieldValue({ field, value, locale, href, plain, filesAt = "", still = false, dial }: Props) {
  const target = field.options.target;
  if (isLink(value)) return <Related link={value} to={"id" in value && target ? href?.(target, value.id) : undefined} />;
  if (isLinks(value)) {
    return (
      <span className={`flex gap-x-2 gap-y-1 ${still ? "" : "flex-wrap"}`}>
        {value.map((l) => (
          <Related key={"id" in l ? l.id : "withheld"} link={l} to={"id" in l && target ? href?.(target, l.id) : undefined} />
        ))}
      </span>
    );
  }
  if (isFiles(value)) return <Files files={value} at={filesAt} small={plain ?? false} still={still} />;
  const words = toWords(field, value, locale);
  if (words === "") return <span className="sr-only">empty</span>;
  const { show } = LOOKS[field.type];
  if (show === "tag" && !plain)
    return (
      <span className="flex flex-wrap gap-1">
        {(Array.isArray(value) ? (value as string[]) : [value as string]).map((v) => (
          <span key={v} className={`tag ${toned(field, v)}`}>
            {kindOf(single(field)).words(v, field, locale)}
          </span>
        ))}
      </span>
    );
  const tone = show === "tag" && typeof value === "string" ? toned(field, value) : "";
  if (tone) return <span className={tone}>{words}</span>;
  if (show === "link" && !plain) return <Address field={field} text={String(value)} dial={dial} />;
  if (show === "lines" && !still) return <span className="whitespace-pre-line">{words}</span>;
  return words;
}

function toned(field: Field, id: string): string {
  const tone = field.options.choices?.find((c) => c.id === id)?.tone;
  return tone ? `tone tone-${tone}` : "";
}

/** Written to, called or opened: http and https alone are ever stored as addresses on the web. */
function Address({ field, text, dial }: { field: Field; text: string; dial: Props["dial"] }) {
  const to = holdsEmail(field) ? `mailto:${text}` : holdsTelephone(field) ? (dial?.(text, field.options.country) ?? null) : text;
  if (!to) return text;
  return (
    <a className="link-plain" href={to} {...(holdsWebAddress(field) ? { rel: "noopener noreferrer nofollow", target: "_blank" } : {})}>
      {text}
    </a>
  );
}

/** Pictures as pictures, other files by name. Where only the name may be known, there is nothing to open. */
export function Files({ files, at, small, still }: { files: readonly FileRef[]; at: string; small: boolean; still: boolean }) {
  return (
    <span className={`flex items-center gap-2 ${still ? "" : "flex-wrap"} ${small ? "max-h-9 overflow-hidden" : ""}`}>
      {files.map((f) => {
        if (!f.at || (still && !f.picture)) return <span key={f.id}>{f.name}</span>;
        const address = `${at}${f.at}`;
        if (!f.picture)
          return (
            <a key={f.id} className="link-plain inline-flex items-center gap-1" href={address}>
              <Paperclip size={13} aria-hidden /> {f.name}
            </a>
          );
        const side = still ? 26 : small ? 34 : 200;
        const shown = (
          // biome-ignore lint/performance/noImgElement: who may see it is asked at each request, which the optimiser would go around
          <img
            key={f.id}
            src={`${address}?size=${small ? "small" : "middle"}`}
            alt={f.name}
            loading="lazy"
            className="shrink-0 rounded-sm border border-base-300 object-cover"
            style={small ? { width: side, height: side } : { maxWidth: side, maxHeight: side }}
          />
        );
        return still ? (
          shown
        ) : (
          <a key={f.id} href={address} title={f.name}>
            {shown}
          </a>
        );
      })}
    </span>
  );
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
