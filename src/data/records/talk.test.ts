/** Conversations: opened by an act and its grant alone; tried from another company, a lesser role, and signed out. */
import { beforeEach, describe, expect, it } from "vitest";
import type { Act } from "@/core/access/act";
import { published, storePublished } from "@/data/definition/published";
import { talkField, talkFieldId } from "@/data/files/talk";
import { beginUpload } from "@/data/files/uploads";
import { must, type TestPortal, testPortal } from "@/testing/portal";
import { PUBLISHER } from "@/testing/world";
import type { Desk } from "./desk";
import { openTalkFile, whoTalked } from "./talk";

let p: TestPortal;
let dana: Desk; // One, lead: talks
let rafe: Desk; // Two, lead
let wren: Desk; // One: sees signs, and no conversation
let ines: Desk; // the agency's
let sign: string;

const talk = (x: TestPortal): Act => ({ id: "talk", name: "Write about it", table: x.table("signs").id, on: "talk", sets: [] });

beforeEach(() => {
  p = testPortal({
    grants: [
      { roles: ["lead", "looker", "staff"], table: "signs" },
      { roles: ["lead", "staff"], table: "signs", actions: [], acts: ["talk"] },
    ],
    acts: (x) => [talk(x)],
  });
  dana = p.person("Dana", "One", "lead");
  rafe = p.person("Rafe", "Two", "lead");
  wren = p.person("Wren", "One", "looker");
  ines = p.person("Ines", null, "staff");
  sign = p.add("signs", { code: "N1", project: p.project("One") });
});
const signs = () => p.table("signs");
const said = (d: Desk) => d.conversation(signs(), sign)?.map((m) => m.body) ?? null;

describe("a conversation", () => {
  it("is between the company and the agency, whom the act is granted to", () => {
    must(dana.say(signs(), sign, "  It flickers.  ", false));
    must(ines.say(signs(), sign, "We come on Thursday.", false));
    expect([said(dana), said(ines)]).toEqual([
      ["It flickers.", "We come on Thursday."],
      ["It flickers.", "We come on Thursday."],
    ]);
    for (const other of [rafe, wren, p.visitor()]) {
      expect(said(other)).toBeNull();
      expect(other.say(signs(), sign, "Let me in", false)).toEqual({ ok: false, error: "not-found" });
    }
    expect(said(dana)).toHaveLength(2);
  });
  it("the agency's own notes reach nobody else, and nobody else can write one", () => {
    must(ines.say(signs(), sign, "Take the long ladder.", true));
    must(ines.say(signs(), sign, "On our way.", false));
    expect([said(ines), said(dana)]).toEqual([["Take the long ladder.", "On our way."], ["On our way."]]);
    expect(dana.say(signs(), sign, "psst", true)).toEqual({ ok: false, error: "not-found" });
    expect(said(ines)).toHaveLength(2);
  });
  it("stays with the agency when the record goes to another company", () => {
    must(dana.say(signs(), sign, "Ours alone.", false));
    must(p.owners.change(signs(), sign, p.values("signs", { project: p.project("Two") }), null));
    must(ines.say(signs(), sign, "Welcome.", false));
    expect([said(dana), said(rafe), said(ines)]).toEqual([null, ["Welcome."], ["Ours alone.", "Welcome."]]);
  });
  it("there is none about what companies share, nor for visitors: one company never reads another's words", () => {
    const { definition } = published(p.file);
    const grants = definition.grants.map((g) => ({ ...g, roles: [...g.roles, "visitor"] }));
    storePublished(p.file, { ...definition, grants, walls: { ...definition.walls, [signs().id]: { kind: "shared" } } }, PUBLISHER);
    const [d, r, v] = [p.again(dana), p.again(rafe), p.visitor()];
    expect([d.read(signs(), sign), r.read(signs(), sign), v.read(signs(), sign)].every((x) => x !== undefined)).toBe(true);
    for (const who of [d, r, v]) {
      expect(said(who)).toBeNull();
      expect(who.say(signs(), sign, "Hello", false)).toEqual({ ok: false, error: "not-found" });
    }
  });
  it("empty and endless messages are refused; those who took part are known, each once", () => {
    expect(dana.say(signs(), sign, " \n ", false)).toEqual({ ok: false, error: "empty" });
    expect(dana.say(signs(), sign, "x".repeat(10_001), false)).toEqual({ ok: false, error: "long" });
    must(dana.say(signs(), sign, "One", false));
    must(dana.say(signs(), sign, "Two", false));
    must(ines.say(signs(), sign, "Three", false));
    must(ines.say(signs(), sign, "For ourselves", true));
    const [danas, iness] = [dana.viewer.person!.id, ines.viewer.person!.id];
    expect(whoTalked(p.file, signs().id, sign, null)).toEqual([danas, iness]);
    expect(whoTalked(p.file, signs().id, sign, danas)).toEqual([iness]);
  });
  it("is no act that could be done to a record", () => {
    expect(dana.act(talk(p), sign)).toMatchObject({ error: { code: "not-found" } });
    expect(dana.acts(signs()).map((a) => a.id)).toEqual(["talk"]);
  });
  it("takes files of whoever writes, had by exactly whoever reads the message", () => {
    const came = (d: Desk, field: string): string => {
      const { id } = must(beginUpload(p.file, d.viewer, { ...talkField(signs()), id: field }, { name: "plan.txt", bytes: 4 }));
      p.file.db.prepare("UPDATE sys_files SET hash = ?, type = 'text/plain' WHERE id = ?").run(`h-${id}`, id);
      return id;
    };
    const field = talkFieldId(signs());
    const [mine, hers] = [came(dana, field), came(ines, field)];
    // Somebody else's, one for another place, one that is not there, and one that a message has already.
    for (const ids of [[hers], [came(dana, talkFieldId(p.table("projects")))], ["0".repeat(36)]])
      expect(dana.say(signs(), sign, "Here", false, ids)).toEqual({ ok: false, error: "files" });
    expect(said(dana)).toEqual([]);
    must(dana.say(signs(), sign, "", false, [mine]));
    expect(dana.say(signs(), sign, "again", false, [mine])).toEqual({ ok: false, error: "files" });
    must(ines.say(signs(), sign, "For us.", true, [hers]));
    const had = (d: Desk, id: string): boolean => openTalkFile(d, signs(), sign, id, null) !== undefined;
    expect([dana, ines, rafe, wren, p.visitor()].map((d) => had(d, mine))).toEqual([true, true, false, false, false]);
    // A note's files are the agency's, as its words are.
    expect([dana, ines].map((d) => had(d, hers))).toEqual([false, true]);
    const other = p.add("signs", { code: "N2", project: p.project("One") });
    expect(openTalkFile(dana, signs(), other, mine, null)).toBeUndefined();
    expect(dana.conversation(signs(), sign)![0]!.files).toMatchObject([
      { id: mine, name: "plan.txt", at: expect.stringContaining("/talk/") },
    ]);
  });
});
