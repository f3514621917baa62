import { describe, expect, it } from "vitest";
import { inviteesOf, readInvitees } from "./invitees";

const read = (text: string) => {
  const file = readInvitees(text);
  if (typeof file === "string") throw new Error(file);
  return { ...file, people: inviteesOf(file, file.guess) };
};

describe("a list of people to invite", () => {
  it("is read by its headings, whatever their order", () => {
    const { people, blank } = read(
      "Company;E-mail;First name;Last name;Roles;Password\nAsh;a@b.example;Ada;Birch;Lead, Approver; one two \n;;;;;\n",
    );
    expect(blank).toBe(1);
    expect(people).toEqual([
      { line: 2, name: "Ada Birch", email: "a@b.example", company: "Ash", roles: ["Lead", "Approver"], password: " one two ", again: null },
    ]);
  });

  it("without a header by what looks like an address; a second of the same is told apart", () => {
    const { header, people } = read('a@b.example,"Birch, Ada"\nA@B.example,Ada\nc@d.example,\n');
    expect(header).toBe(false);
    expect(people.map((p) => [p.line, p.name, p.email, p.again])).toEqual([
      [1, "Birch, Ada", "a@b.example", null],
      [2, "Ada", "A@B.example", 1],
      [3, "c", "c@d.example", null],
    ]);
  });

  it("says what keeps it from being read", () => {
    expect(readInvitees("")).toMatch(/empty/);
    expect(readInvitees("Name,E-mail\n")).toMatch(/nobody below/);
    expect(readInvitees('Name,E-mail\n"Ada,a@b.example\n')).toMatch(/line 2 is never closed/);
    expect(readInvitees(`E-mail\n${"a@b.example\n".repeat(10_002)}`)).toMatch(/10,000 people at the most/);
  });
});
