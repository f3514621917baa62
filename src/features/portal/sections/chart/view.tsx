/** A chart, drawn on the server; the same figures stand in a table below it. Moved about in only once somebody asks for that. */
import type { SectionOf } from "@/core/pages/page";
import { Link } from "@/ui/link";
import { listHref } from "../../pages-for";
import { localeOf, sayOf } from "../../queries";
import { headingId, type SectionProps } from "../at";
import { measuredWords } from "../figures/words";
import { Closer } from "./closer";
import { Drawn } from "./drawn";
import { chartView } from "./load";

export function ChartSection({ at, section }: SectionProps<SectionOf<"chart">>) {
  const { r } = at;
  const v = chartView(r, section);
  if (!v) return null;
  const say = sayOf(r);
  const locale = localeOf(r);
  const { measure, shape } = section.config;
  const worded = (n: number): string => measuredWords(measure, v.of, n, locale);
  const list = listHref(r, v.table.id);
  const scale = v.of ? worded(100).replace(/[\d.,\s]/g, "") : "";
  const title = section.title || say("chart.title", { things: v.table.name, by: v.by.name });
  return (
    <div className="sheet flex h-full flex-col gap-3 p-4">
      <h2 id={headingId(section)}>{title}</h2>
      {v.bars.length === 0 ? (
        <p className="quiet py-6 text-center">{say("chart.empty")}</p>
      ) : (
        <>
          <Closer
            shape={shape}
            names={v.bars.map((b) => b.name)}
            values={v.bars.map((b) => b.value)}
            texts={v.bars.map((b) => worded(b.value))}
            title={title}
          >
            <Drawn
              shape={shape}
              bars={v.bars}
              worded={worded}
              label={say("chart.label", { title, unit: scale })}
              months={v.months}
              room={section.width <= 6 ? "half" : "whole"}
            />
          </Closer>
          {v.rest > 0 && <p className="quiet text-sm">{say("chart.rest", { rest: worded(v.rest) })}</p>}
          <details className="text-sm">
            <summary className="link-plain w-fit cursor-pointer">{say("chart.figures")}</summary>
            <table className="grid-table mt-2">
              <thead>
                <tr>
                  <th scope="col">{v.by.name}</th>
                  <th scope="col" className="num">
                    {v.of?.name ?? v.table.name}
                  </th>
                </tr>
              </thead>
              <tbody>
                {v.bars.map((b) => (
                  <tr key={b.key}>
                    <td>
                      {list ? (
                        <Link className="link-plain" href={`${list}?only=${section.id}~${encodeURIComponent(b.key)}`}>
                          {b.name}
                        </Link>
                      ) : (
                        b.name
                      )}
                    </td>
                    <td className="num">{worded(b.value)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </details>
        </>
      )}
    </div>
  );
}
