/** What clients see and where: pages with their sections, the menu, and where each role lands. */
import { z } from "zod";
import { navigationSchema, originSchema, type Pages, pageSchema, sectionSchema } from "../../pages/page";
import { pagesProblems } from "../../pages/problems";
import type { Part } from "../part";
import { id } from "./shared";

const shape = z.strictObject({
  pages: z.array(pageSchema).max(300, "A portal has 300 pages of its own at the most."),
  sections: z.array(sectionSchema).max(6_000),
  navigation: z.array(navigationSchema).max(100, "A menu has 100 entries at the most."),
  thrown: z.array(z.strictObject({ id: z.string().max(64) })).max(600),
  /** Origins whose sites may show pages in a frame. */
  frames: z.array(originSchema).max(20, "Twenty sites at the most."),
  landing: z.record(id, z.strictObject({ page: z.string().max(64) })),
});

export const pagesPart: Part<Pages> = {
  name: "pages",
  shape,
  migrations: [
    // 2: before it, all pages followed from the grants.
    (old) => ({ pages: [], sections: [], navigation: [], thrown: [], frames: [], landing: {}, ...old }),
  ],
  problems: (d, schema) => pagesProblems(d, schema),
};
