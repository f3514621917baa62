"use client";
/** What a form asks, in which order, and what comes after it. */
import { type Dispatch, type SetStateAction, useState } from "react";
import type { SectionOf } from "@/core/pages/page";
import type { Asked } from "@/core/sections/form";
import { type SettingsProps, useOffered } from "../around";
import { Check, Choose, FieldsPicker, Words } from "../controls";
import { FilterButton } from "../filter-button";
import { AddressBox } from "./address-box";
import { FillRules } from "./fill";

type FormConfig = SectionOf<"form">["config"];

const made = (field: string): Asked => ({ field, width: 12, required: false, when: null, step: 1 });

export function FormPanel({ section, onChange }: SettingsProps<SectionOf<"form">>) {
  const { tables, acts, about, pages } = useOffered();
  const { config } = section;
  const table = tables.find((t) => t.id === config.table);
  // Chosen, and still without an address: what comes afterwards stays as it is until there is one.
  const [outside, setOutside] = useState(false);
  const does = typeof config.does === "object" ? config.does.act : config.does;
  const doing = [
    { value: "add", label: "Adds a record" },
    ...(about?.id === config.table ? [{ value: "change", label: "Changes this record" }] : []),
    ...acts
      .filter((a) => a.table === config.table && a.on !== "talk" && a.on !== "accept")
      .map((a) => ({ value: a.id, label: `Does “${a.name}”` })),
  ];
  return (
    <>
      <Choose
        label="For"
        value={config.table}
        options={tables.map((t) => ({ value: t.id, label: t.name }))}
        onChange={(id) => onChange({ ...config, table: id, does: "add", fields: null, fill: [] })}
      />
      <Choose
        label="What it does"
        value={does}
        options={doing}
        onChange={(v) => onChange({ ...config, does: v === "add" || v === "change" ? v : { act: v } })}
      />
      <FieldsPicker
        label="Asks for"
        fields={table?.fields ?? []}
        value={config.fields}
        make={made}
        onChange={(fields) => onChange({ ...config, fields })}
      />
      {config.fields?.map((a, i) => {
        const name = table?.fields.find((f) => f.id === a.field)?.name ?? "A field that is gone";
        const put = (more: Partial<Asked>): void =>
          onChange({ ...config, fields: config.fields!.map((x, k) => (k === i ? { ...x, ...more } : x)) });
        return (
          <details key={a.field} className="rounded-box border border-base-300 px-3 py-1.5 text-sm">
            <summary className="cursor-pointer font-medium">How {name} is asked</summary>
            <AskedMore a={a} put={put} config={config} />
          </details>
        );
      })}
      {table && <FillRules rules={config.fill} table={table} onChange={(fill) => onChange({ ...config, fill })} />}
      <Steps value={config.steps} onChange={(steps) => onChange({ ...config, steps })} />
      <Words label="On its button" value={config.submit} placeholder="Add the …" onChange={(submit) => onChange({ ...config, submit })} />
      <AfterForm outside={outside} config={config} pages={pages} setOutside={setOutside} onChange={onChange} />
      {(outside || config.after.goes === "address") && (
        <AddressBox
          value={config.after.goes === "address" ? config.after.address : null}
          fields={table?.fields ?? []}
          onChange={(address) => {
            setOutside(false);
            onChange({ ...config, after: { goes: "address", address } });
          }}
        />
      )}
      {!outside && config.after.goes === "again" && (
        <Words
          label="The sentence"
          value={config.after.words}
          placeholder="It has been sent. Thank you."
          onChange={(words) => onChange({ ...config, after: { goes: "again", words } })}
        />
      )}
    </>
  );
}

/** A line each, as they are typed: a line that is still empty is a step once something stands in it. */
function Steps({ value, onChange }: { value: readonly string[]; onChange: (steps: string[]) => void }) {
  const [text, setText] = useState(value.join("\n"));
  const stepsOf = (typed: string): string[] =>
    typed
      .split("\n")
      .map((s) => s.trim().slice(0, 60))
      .filter(Boolean)
      .slice(0, 12);
  // What is set from elsewhere, by an undo above all, stands in the box.
  const same = JSON.stringify(stepsOf(text)) === JSON.stringify(value);
  return (
    <Words
      label="Steps"
      lines={3}
      value={same ? text : value.join("\n")}
      hint="A line each; one step where there are none."
      onChange={(typed) => {
        setText(typed);
        onChange(stepsOf(typed));
      }}
    />
  );
}

interface AskedMoreProps {
  readonly a: Asked;
  readonly put: (more: Partial<Asked>) => void;
  readonly config: FormConfig;
}

/** What else is said of a field that the form asks. */
function AskedMore({ a, put, config }: AskedMoreProps) {
  return (
    <div className="mt-2 grid gap-2">
      <Words label="Said below it" value={a.help ?? ""} onChange={(v) => put({ help: v || undefined })} />
      <Words label="Shown while empty" value={a.placeholder ?? ""} onChange={(v) => put({ placeholder: v || undefined })} />
      <Words label="Heading before it" value={a.group ?? ""} onChange={(v) => put({ group: v || undefined })} />
      <Check label="Has to be filled in" value={a.required} onChange={(required) => put({ required })} />
      <Check label="Half as wide" value={a.width === 6} onChange={(half) => put({ width: half ? 6 : 12 })} />
      {config.steps.length > 1 && (
        <Choose
          label="In step"
          value={String(a.step)}
          options={config.steps.map((s, n) => ({ value: String(n + 1), label: s || String(n + 1) }))}
          onChange={(v) => put({ step: Number(v) })}
        />
      )}
      <FilterButton label="Asked only when" table={config.table} value={a.when} onChange={(when) => put({ when })} />
    </div>
  );
}

interface AfterFormProps {
  readonly outside: boolean;
  readonly config: FormConfig;
  readonly pages: readonly { id: string; name: string; about: string | null }[];
  readonly setOutside: Dispatch<SetStateAction<boolean>>;
  readonly onChange: (config: FormConfig) => void;
}

/** Where a sent form leads. */
function AfterForm({ outside, config, pages, setOutside, onChange }: AfterFormProps) {
  return (
    <Choose
      label="Afterwards"
      value={outside ? "address" : config.after.goes === "page" ? `page ${config.after.page}` : config.after.goes}
      options={[
        { value: "record", label: "the record's page" },
        { value: "list", label: "the list" },
        { value: "again", label: "a sentence, and a fresh form" },
        ...pages.filter((p) => p.about === null).map((p) => ({ value: `page ${p.id}`, label: `the page ${p.name}` })),
        { value: "address", label: "an address outside" },
      ]}
      onChange={(v) => {
        setOutside(v === "address");
        if (v === "record" || v === "list") onChange({ ...config, after: { goes: v } });
        else if (v === "again") onChange({ ...config, after: { goes: "again", words: "" } });
        else if (v.startsWith("page ")) onChange({ ...config, after: { goes: "page", page: v.slice(5) } });
      }}
    />
  );
}
