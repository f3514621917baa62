"use server";
/** Undo and redo on the draft, of the parts that a room owns. */
import { z } from "zod";
import { PART_NAMES } from "@/core/definition/definition";
import { moveDraft } from "@/data/definition/versions";
import { whole } from "@/identity/requests/takes";
import { officeAction } from "@/office/action";
import { type DraftAnswer, told } from "./draft";

export const stepDraft = officeAction(
  "build",
  [whole, z.literal([-1, 1]), z.array(z.enum(PART_NAMES)).readonly().nullable()],
  async (p, revision, by, parts): Promise<DraftAnswer> => {
    const named = parts?.filter((x) => PART_NAMES.includes(x)) ?? PART_NAMES;
    return told(p, moveDraft(p.file, p.owner, revision, by === 1 ? 1 : -1, named));
  },
);
