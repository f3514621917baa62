/** Answers of the HTTP API held against its own document: the status is documented, so is the type, and the body is as the schema says. */
import { Ajv2020 } from "ajv/dist/2020.js";
import addFormats from "ajv-formats";
import type { Answer } from "./client";

interface Operation {
  readonly operationId: string;
  readonly responses: Record<string, { readonly content?: Record<string, { readonly schema: object }> }>;
}
export interface Document {
  readonly paths: Record<string, Record<string, Operation>>;
  readonly components: { readonly schemas: Record<string, object>; readonly securitySchemes: Record<string, object> };
}

export class Contract {
  readonly #ajv = new Ajv2020({ strict: false, allErrors: true });

  constructor(readonly document: Document) {
    (addFormats as unknown as (ajv: Ajv2020) => void)(this.#ajv);
    this.#ajv.addSchema({ ...document, $id: "doc" });
  }

  /** What the answer has that the document does not say; nothing where it keeps to it. */
  breaches(method: string, path: string, a: Answer): string[] {
    const operation = this.document.paths[path]?.[method];
    const response = operation?.responses[String(a.status)];
    if (!operation || !response) return [`${method} ${path} answered ${a.status}, which is not documented`];
    const type = a.headers["content-type"] as string | undefined;
    if (!response.content) return a.text === "" ? [] : [`${method} ${path} ${a.status} has a body, and none is documented`];
    const media = type ? response.content[type] : undefined;
    if (!media) return [`${method} ${path} ${a.status} is ${type}, which is not documented`];
    if (!/json/.test(type!)) return [];
    const pointer = `doc#/paths/${escaped(path)}/${method}/responses/${a.status}/content/${escaped(type!)}/schema`;
    const valid = this.#ajv.getSchema(pointer) ?? this.#ajv.compile({ $ref: pointer });
    return valid(a.json) ? [] : [`${method} ${path} ${a.status}: ${this.#ajv.errorsText(valid.errors)} in ${a.text.slice(0, 300)}`];
  }
}

/** RFC 6901 section 4 within a fragment (section 6). */
const escaped = (s: string): string => encodeURIComponent(s.replaceAll("~", "~0").replaceAll("/", "~1"));
