/** Choices renamed, ordered and removed, and what becomes of records that hold one. */
import { describe, expect, it } from "vitest";
import { message, Shaped } from "@/testing/shaped";
import { changeDraft, draftOf } from "../definition/draft";
import { changeChoices, choiceCounts } from "./choices";
import { seenOf } from "./shape";

describe("choices", () => {
  it("rename and order follow everywhere; one that goes says what becomes of its records, and stays where a rule speaks of it", () => {
    const p = new Shaped();
    for (const type of ["Door", "Door", "Totem"]) p.add("signs", { code: type, type, marks: ["new", "worn"], project: p.project("Ash") });
    const type = p.f("signs", "type");
    expect(choiceCounts(p.file, type)).toEqual({ Door: 2, Totem: 1 });
    const given = {
      choices: [
        { id: "Totem", name: "Totem" },
        { id: "Hanging", name: "Hung" },
      ],
      instead: {},
    };
    expect(message(changeChoices(p.file, p.owner, type.id, given, seenOf(type)))).toContain(
      "Say what becomes of the 2 records that have “Door”.",
    );
    expect(message(changeChoices(p.file, p.owner, type.id, { ...given, instead: { Door: "Hanging" } }, seenOf(type)))).toBe("done");
    expect(p.held("signs", "type")).toEqual(["Hanging", "Hanging", "Totem"]);
    expect(p.f("signs", "type").options.choices).toMatchObject([{ name: "Totem" }, { name: "Hung" }]);
    const toned = p.f("signs", "type");
    const tones = toned.options.choices!.map((c, i) => ({ ...c, tone: i === 0 ? ("good" as const) : undefined }));
    expect(message(changeChoices(p.file, p.owner, type.id, { choices: tones, instead: {} }, seenOf(toned)))).toBe("done");
    expect(p.f("signs", "type").options.choices!.map((c) => c.tone)).toEqual(["good", undefined]);
    const marks = p.f("signs", "marks");
    expect(
      message(
        changeChoices(
          p.file,
          p.owner,
          marks.id,
          {
            choices: [
              { id: "worn", name: "Worn, old" },
              { id: null, name: "Fresh" },
            ],
            instead: { new: null },
          },
          seenOf(marks),
        ),
      ),
    ).toBe("done");
    expect(p.held("signs", "marks")[0]).toEqual(["worn"]);
    const { revision } = draftOf(p.file, p.owner);
    const filter = {
      kind: "test" as const,
      path: [type.id],
      operator: "is" as const,
      operands: [{ kind: "literal" as const, value: "Totem" }],
    };
    changeDraft(p.file, p.owner, revision, (d) => ({ ...d, grants: d.grants.map((g, i) => (i === 0 ? { ...g, filter } : g)) }));
    expect(
      message(
        changeChoices(
          p.file,
          p.owner,
          type.id,
          { choices: [{ id: "Hanging", name: "Hung" }], instead: { Totem: null } },
          seenOf(p.f("signs", "type")),
        ),
      ),
    ).toContain("“Totem” cannot go while a grant or an act speaks of it");
  });
});
