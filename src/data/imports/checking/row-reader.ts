/** One row of a file against the plan: its stored cells, or all that is wrong with it. */

import type { CsvRecord } from "@/core/exchange/csv";
import { type ImportPlan, type RowProblem, WHOLE_ROW } from "@/core/exchange/import-plan";
import { namedIn } from "@/core/exchange/names-in-cells";
import { hasChoices, holdsEmail, holdsFiles, isLine, isRelation, pointsToSeveral } from "@/core/schema/fields/natures";

import { kindOf, type Schema, type Table } from "@/core/schema/types";
import { fold } from "@/core/text/fold";
import type { PortalFile } from "../../file/open";
import { companiesOfPeople, keyOf, Lookup, lookedUpBy } from "../../tables/lookup";
import { storedValue } from "../../tables/store";
import { FilesByName } from "../reading/archive";
import { FileReader, type Prepared } from "../reading/beside";
import { MARK, ownerColumn, placesOf, plannedColumns, type StagedColumn, textAt } from "../reading/planned";
import { type Cell, cellReader, isProblem, type Problem, problem, type ReadCell } from "./cells";
import { ChoiceReader } from "./chosen";
import { type Held, HeldRecords } from "./held";
import type { Added, ReadRow, RefusedRow, Unmatched } from "./rows-read";
import { UnlikeValues } from "./unlike";

const quoted = (text: string): string => `“${text.length > 60 ? `${text.slice(0, 60)}…` : text}”`;
/** What stands for a record that is to be made. */
const mark = (at: number, key: string): string => `${MARK}${at}:${key}`;
const LONGEST_COMPANY = 120;

export interface ReaderOf {
  readonly file: PortalFile;
  readonly schema: Schema;
  readonly plan: ImportPlan;
  readonly header: readonly string[];
  /** An existing table's way to its companies. */
  readonly way: readonly string[] | null;
  /** Whether it is owned now. */
  readonly scoped: boolean;
  readonly timeZone: string;
  readonly roles: readonly { id: string; name: string; side: string }[];
  /** Files of the archive beside the table that its cells name; null where there is no archive. */
  readonly files: readonly Prepared[] | null;
}

const whole = (line: number, reason: string): RowProblem => ({ line, column: WHOLE_ROW, reason });

export class RowReader {
  readonly columns: readonly StagedColumn[];
  readonly table: Table | null;
  /** By column and folded name. */
  readonly adds = new Map<string, Added>();
  readonly unmatched = new Map<string, Unmatched>();
  readonly lookups = new Map<number, Lookup>();
  readonly choices = new Map<number, ChoiceReader>();
  /** By the place of the column in the file; relations are looked up. */
  readonly #cells = new Map<number, ReadCell>();
  readonly #owner: StagedColumn | undefined;
  readonly #key: StagedColumn | undefined;
  readonly #held: HeldRecords | null;
  readonly #role: number;
  readonly #unlike: UnlikeValues;
  /** Columns that name what is to be made, by the place of their cells in a row that was read. */
  readonly #adding: { readonly place: number; readonly many: boolean }[];
  readonly #used = new Set<string>();
  readonly #people: Map<string, Set<string | null>> | null;
  readonly #companyNames: Lookup | null;

  constructor(private readonly of: ReaderOf) {
    const { file, schema, plan } = of;
    this.columns = plannedColumns(plan, schema);
    this.table = "id" in plan.table ? schema.table(plan.table.id) : null;
    this.#owner = ownerColumn(plan, this.columns, of.way);
    const byName = new FilesByName(of.files ?? []);
    for (const c of this.columns) {
      if (hasChoices(c.field) && !c.fresh) this.choices.set(c.at, new ChoiceReader(c, (id, text) => this.#miss(id, c.at, text)));
      if (!isRelation(c.field)) {
        const files = holdsFiles(c.field) ? new FileReader(file, c.field, this.table, byName, of.files !== null) : undefined;
        this.#cells.set(c.at, cellReader(c, of.timeZone, files, this.choices.get(c.at)));
        continue;
      }
      const target = schema.table(c.field.options.target);
      this.lookups.set(c.at, new Lookup(file, target, lookedUpBy(schema, c.field, c.plan.by), schema.field(target.labelFieldId)));
    }
    this.#key = this.columns.find((c) => c.at === plan.key);
    this.#held =
      this.#key && this.table && !this.#key.fresh
        ? new HeldRecords(file, this.table, this.#key, this.columns, plan.empties, this.#scoped)
        : null;
    this.#role = plan.columns.findIndex((c) => c.to === "role");
    this.#adding = this.columns.flatMap((c, i) =>
      c.plan.add ? [{ place: placesOf(this.columns)[i]!, many: kindOf(c.field).many !== null }] : [],
    );
    this.#unlike = new UnlikeValues(file, this.columns, this.#key, this.#scoped);
    const toPeople = this.columns.some((c) => c.field.options.target === schema.people.id) && this.table?.kind !== "people";
    this.#people = toPeople ? companiesOfPeople(file) : null;
    this.#companyNames = toPeople
      ? new Lookup(file, schema.companies, schema.field("f_company_name"), schema.field("f_company_name"))
      : null;
  }

  /** Values of an owned table are unlike each other within a company. */
  get #scoped(): boolean {
    return this.table ? this.table.kind === "ordinary" && this.of.scoped : this.of.plan.whose.kind === "column";
  }

  read({ cells, line, cut }: CsvRecord): RefusedRow | ReadRow {
    const { header } = this.of;
    let company: string | null | undefined;
    const refused = (...problems: RowProblem[]): RefusedRow => ({ line, problems, met: this.#met(cells, company) });
    if (cut) return refused(whole(line, "It is far too long, or a quotation mark in it is never closed. Only its beginning was read."));
    if (cells.length !== header.length)
      return refused(
        whole(line, `It has ${cells.length === 1 ? "one cell" : `${cells.length} cells`} where the row of names has ${header.length}.`),
      );
    const problems: RowProblem[] = [];
    const bad = (c: StagedColumn, { reason }: Problem): void => void problems.push({ line, column: header[c.at]!, reason });
    // Whose it is comes first: a name that two companies have is that of the row's own.
    const owner = this.#owner ? this.#cell(this.#owner, textAt(cells, this.#owner), undefined, null) : null;
    company = isProblem(owner) ? undefined : this.#companyOf(owner);
    const key = this.#key ? textAt(cells, this.#key) : "";
    const stored = this.#key && key.trim() !== "" ? this.#stored(this.#key, key) : null;
    const found = this.#known(key, stored, company);
    if (isProblem(found) && !isProblem(owner)) bad(this.#key!, found);
    // Where it is not known whose the row is, or which record is meant, nothing is said that depends on it.
    const sure = !isProblem(owner) && !isProblem(found);
    const held = sure ? found : null;
    const known = held === null ? null : { id: this.#held!.id(held), rowid: this.#held!.rowid(held), held };
    const out: Cell[] = [];
    for (const c of this.columns) {
      const told = sure || c === this.#owner || !(isRelation(c.field) || holdsFiles(c.field));
      const cell = c === this.#owner ? owner : told ? this.#cell(c, textAt(cells, c), company, known?.id ?? null) : null;
      const needed = cell === null && sure ? this.#needed(c, known?.id ?? null) : null;
      if (isProblem(cell)) bad(c, cell);
      else if (needed) bad(c, problem(needed));
      out.push(isProblem(cell) ? null : cell);
      if (c.folded) out.push(isProblem(cell) || cell === null ? null : fold(String(cell)));
    }
    const lacking = sure && !known ? this.#lacking() : null;
    if (lacking) problems.push(whole(line, lacking));
    const role = this.#roleOf(cells);
    if (isProblem(role)) problems.push({ line, column: header[this.#role]!, reason: role.reason });
    const ownKey = stored === null || !this.#scoped ? stored : `${company ?? ""}\u0000${stored}`;
    const self = known?.id ?? (ownKey === null ? `line ${line}` : `key ${ownKey}`);
    if (sure) for (const { column, reason } of this.#unlike.taken(out, self, company, problems.length === 0)) bad(column, problem(reason));
    if (isProblem(role) || problems.length > 0) return refused(...problems);
    return { line, cells: out, known, differs: held === null ? null : this.#held!.differing(held, out), key: ownKey, role };
  }

  /** Known records that the row's key names: those of the row's company alone, where two companies may use the same key. */
  #met(cells: readonly string[], company: string | null | undefined): number[] {
    const text = this.#key && cells[this.#key.at] !== undefined ? textAt(cells, this.#key) : "";
    const there = text.trim() === "" ? [] : this.#ofKey(this.#stored(this.#key!, text), company);
    return there.map((h) => this.#held!.rowid(h));
  }

  #ofKey(stored: string, company: string | null | undefined): readonly Held[] {
    const there = this.#held?.of(stored) ?? [];
    return this.#scoped && company !== undefined ? there.filter((k) => this.#held!.company(k) === company) : there;
  }

  #stored(c: StagedColumn, text: string): string {
    if (c.folded) return keyOf(text);
    const read = kindOf(c.field).parse([text], c.field, c);
    return read.ok ? String(storedValue(read.value)) : text.trim();
  }

  #known(text: string, stored: string | null, company: string | null | undefined): Held | null | Problem {
    if (!this.#key) return null;
    if (stored === null) return problem("It is empty, and records are known by it.");
    const own = this.#ofKey(stored, company);
    if (own.length > 1) return problem(`More than one record has ${quoted(text.trim())}, so it is not clear which is meant.`);
    return own[0] ?? null;
  }

  /** Why an empty cell cannot stand, if so. */
  #needed(c: StagedColumn, known: string | null): string | null {
    if (known !== null && this.of.plan.empties === "leave") return null;
    if (c === this.#owner)
      return c.field.options.target === "t_companies" ? "It names no company." : "It is empty, and says whose the record is.";
    if (c.field.options.required || c.field.id === "f_person_email") return "It is empty, and this field is needed.";
    return null;
  }

  #lack: string | null | undefined;
  /** What a new record would lack, where no column gives it. */
  #lacking(): string | null {
    if (this.#lack !== undefined) return this.#lack;
    const given = new Set(this.columns.map((c) => c.field.id));
    const needed = this.table?.fields.filter((f) => f.options.required && !f.system && !f.options.default && !given.has(f.id)) ?? [];
    return (this.#lack =
      needed.length === 0 ? null : `It would be new, and no column gives it its ${needed.map((f) => f.name).join(", ")}.`);
  }

  #roleOf(cells: readonly string[]): string | null | Problem {
    const text = this.#role === -1 ? "" : (cells[this.#role] ?? "").trim();
    if (text === "") return this.of.plan.role;
    const side = this.of.plan.whose.kind === "agency" ? "agency" : "client";
    const role = this.of.roles.find((r) => r.side === side && (fold(r.name) === keyOf(text) || r.id === text));
    return role ? role.id : problem(`There is no ${side} role ${quoted(text)}.`);
  }

  #companyOf(owner: Cell): string | null | undefined {
    if (!this.#owner) return undefined;
    if (owner === null) return null;
    const first = pointsToSeveral(this.#owner.field) ? (JSON.parse(String(owner)) as string[])[0]! : String(owner);
    if (this.#owner.field.options.target === "t_companies") return first;
    return this.lookups.get(this.#owner.at)!.byId(first)?.company ?? null;
  }

  #cell(c: StagedColumn, text: string, company: string | null | undefined, record: string | null): Cell | Problem {
    const read = this.#cells.get(c.at);
    return read ? read(text, record) : this.#related(c, text, company);
  }

  #related(c: StagedColumn, text: string, company: string | null | undefined): Cell | Problem {
    if (text.trim() === "") return null;
    const many = pointsToSeveral(c.field);
    const parts = many ? namedIn(text, (t) => this.#one(c, t, company, true) !== undefined) : [text];
    const ids: string[] = [];
    for (const part of parts) {
      const one = this.#one(c, part, company, false);
      if (isProblem(one)) return one;
      ids.push(one!);
    }
    return many ? JSON.stringify([...new Set(ids)].sort()) : ids[0]!;
  }

  /** `quietly` answers undefined where nothing is found, and notes nothing. */
  #one(c: StagedColumn, text: string, company: string | null | undefined, quietly: boolean): string | Problem | undefined {
    const lookup = this.lookups.get(c.at)!;
    const name = text.trim();
    const found = lookup.find(name, company) ?? this.#takenFor(c, name, lookup);
    if (found === "many")
      return quietly ? undefined : problem(`There is more than one ${quoted(name)}, so it is not clear which is meant.`);
    if (found) return this.#belongs(c, found.id, name, company) ?? found.id;
    if (quietly) return undefined;
    const key = keyOf(name);
    const id = mark(c.at, key);
    if (c.plan.add && this.canAdd(c)) {
      if (name.length > LONGEST_COMPANY) return problem(`A name is at most ${LONGEST_COMPANY} characters long.`);
      if (!this.adds.has(id)) this.adds.set(id, { at: c.at, table: lookup.table.id, name, company: company ?? null });
      return id;
    }
    this.#miss(id, c.at, name);
    return problem(`There is no ${quoted(name)} to point to.`);
  }

  #miss(id: string, at: number, text: string): void {
    const noted = this.unmatched.get(id);
    if (noted) noted.rows++;
    else this.unmatched.set(id, { at, text, rows: 1 });
  }

  /** The columns with the choices that they are to have. */
  grown(): StagedColumn[] {
    return this.columns.map((c) => ({ ...c, field: this.choices.get(c.at)?.field ?? c.field }));
  }

  /** The row comes in: what it names and is not there is to be made. What refused rows alone name is not. */
  keep({ cells }: ReadRow): void {
    for (const { place, many } of this.#adding) {
      const cell = cells[place];
      if (typeof cell !== "string" || !cell.includes(MARK)) continue;
      for (const id of many ? (JSON.parse(cell) as string[]) : [cell]) if (id.startsWith(MARK)) this.#used.add(id);
    }
  }

  /** Everything that is to be made before the rows come, by mark. */
  *additions(): Generator<[string, Added]> {
    for (const add of this.adds) if (this.#used.has(add[0])) yield add;
    for (const [at, reader] of this.choices)
      for (const [id, name] of reader.added) if (this.#used.has(id)) yield [id, { at, table: null, name, company: null }];
  }

  #takenFor = (c: StagedColumn, name: string, lookup: Lookup) => {
    const id = c.plan.as?.[keyOf(name)];
    return id === undefined ? undefined : lookup.byId(id);
  };

  /** A record that has a name and needs nothing else may be made on the way; people may not. */
  canAdd(c: StagedColumn): boolean {
    if (this.choices.has(c.at)) return true;
    const { table } = this.lookups.get(c.at)!;
    if (table.kind !== "ordinary") return table.kind === "companies";
    const label = table.labelFieldId;
    const by = c.plan.by ?? label;
    const own = table.fields.find((f) => f.id === label);
    return by === label && !!own && (isLine(own) || holdsEmail(own)) && table.fields.every((f) => f.id === label || !f.options.required);
  }

  /** Somebody of another company in a record of this one is a mistake of the file. */
  #belongs(c: StagedColumn, id: string, name: string, company: string | null | undefined): Problem | null {
    if (!this.#people || c.field.options.target !== "t_people" || !company) return null;
    const held = this.#people.get(id);
    if (!held || held.has(null) || held.has(company)) return null;
    const names = [...held].map((x) => this.#companyNames!.names.find((n) => n.id === x)?.name ?? "another company");
    return problem(`${quoted(name)} belongs to ${names.join(" and ")}, not to the company that the row belongs to.`);
  }
}
