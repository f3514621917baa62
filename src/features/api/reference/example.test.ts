/** Examples of the reference: what their schema allows, by a validator of its own (Ajv, JSON Schema 2020-12). */
import Ajv2020 from "ajv/dist/2020";
import addFormats from "ajv-formats";
import { expect, it } from "vitest";
import { exampleOf, type Schema } from "./example";

const SCHEMAS: Readonly<Record<string, Schema>> = {
  text: { type: "string", minLength: 8 },
  day: { type: ["string", "null"], format: "date" },
  amount: {
    type: "object",
    properties: { amount: { type: "string", pattern: "^-?\\d+\\.\\d{2}$" }, currency: { const: "GBP" } },
    required: ["amount"],
  },
  several: { type: "array", items: { enum: ["Repair", "Survey"] }, minItems: 1 },
  either: { anyOf: [{ type: "null" }, { type: "object", properties: { id: { type: "string", format: "uuid" } }, required: ["id"] }] },
  number: { type: "integer", minimum: 3 },
  whole: {
    allOf: [
      { type: "object", properties: { a: { type: "boolean" } } },
      { type: "object", properties: { b: { type: "number" } } },
    ],
  },
};

it.each(Object.entries(SCHEMAS))("an example of %s is valid", (_, schema) => {
  const ajv = new Ajv2020({ strict: false });
  addFormats(ajv);
  const example = exampleOf(schema, () => undefined);
  expect([example, ajv.validate(schema, example)]).toEqual([example, true]);
});

it("follows a reference, and ends where one leads to itself", () => {
  const node: Schema = { type: "object", properties: { next: { $ref: "#/components/schemas/node" } } };
  const resolve = (ref: string) => (ref.endsWith("/node") ? node : undefined);
  expect(JSON.stringify(exampleOf({ $ref: "#/components/schemas/node" }, resolve))).toContain('{"next":{"next"');
  expect(exampleOf({ $ref: "#/components/schemas/never" }, resolve)).toBeUndefined();
});
