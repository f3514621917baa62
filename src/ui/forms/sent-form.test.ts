import { describe, expect, test } from "vitest";
import { z } from "zod";
import { type FormState, NEW_FORM } from "./form";
import { SentForm } from "./sent-form";

const sent = (fields: readonly (readonly [string, string | Blob])[], before: FormState = NEW_FORM): SentForm => {
  const data = new FormData();
  for (const [name, value] of fields) data.append(name, value);
  return new SentForm(before, data);
};

describe("a form as it was sent", () => {
  test("gives texts up to their length, and nothing for files and fields that were not sent", () => {
    const form = sent([
      ["name", "Ada Finch"],
      ["file", new Blob(["x"])],
      ["role", "a"],
      ["role", "b"],
      ["on", "on"],
    ]);
    expect([form.text("name"), form.text("name", 3), form.text("file"), form.text("none")]).toEqual(["Ada Finch", "Ada", "", ""]);
    expect(form.all("role")).toEqual(["a", "b"]);
    expect([form.ticked("on"), form.ticked("name"), form.ticked("none")]).toEqual([true, false, false]);
  });

  test("fails with what was typed, so that nothing is lost, but never with a password", () => {
    const form = sent([
      ["name", "Ada"],
      ["password", "hidden"],
    ]);
    expect(form.failed({ name: "Too short." }, "Not saved.")).toEqual({
      errors: { name: "Too short." },
      message: "Not saved.",
      values: { name: "Ada" },
      turn: 1,
      successes: 0,
    });
  });

  test("counts on from what its page showed, whatever came back as that", () => {
    expect(sent([], { ...NEW_FORM, turn: 4, successes: 2 }).succeeded("Saved.")).toMatchObject({ turn: 5, successes: 3, done: "Saved." });
    for (const forged of [null, undefined, "x", { turn: "9", successes: 1.5 }])
      expect(sent([], forged as unknown as FormState).failed({})).toMatchObject({ turn: 1, successes: 0, values: {} });
  });

  test("is read by a schema, with a sentence beside each field that is wrong", () => {
    const schema = z.object({ name: z.string().trim().min(1, "Give a name."), email: z.string().max(3, "Too long.") });
    expect(
      sent([
        ["name", " Ada "],
        ["email", "x"],
      ]).read(schema),
    ).toEqual({ ok: true, value: { name: "Ada", email: "x" } });
    const wrong = sent([
      ["name", " "],
      ["email", "long"],
    ]).read(schema);
    expect(wrong).toMatchObject({ ok: false, answer: { errors: { name: "Give a name.", email: "Too long." }, values: { email: "long" } } });
  });
});
