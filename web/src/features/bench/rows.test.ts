import { describe, expect, it } from "vitest";

import { META } from "../../test/meta";
import { methodOf, readingsOf, rowsOf } from "./rows";
import { emptyDraft } from "./useDraft";

const rows = rowsOf(META, { combined: "cc", more: true });
const row = (id: string) => rows.find((r) => r.measure === id)!;

describe("rows of the bench", () => {
  it.each([
    [{ combined: "cc", more: false }, ["fc", "cc", "ph", "temp"]],
    [{ combined: "tc", more: false }, ["fc", "tc", "ph", "temp"]],
    [{ combined: "cc", more: true }, ["fc", "cc", "ph", "temp", "rare"]],
  ] as const)("%o shows %o", (draft, ids) => expect(rowsOf(META, draft).map((r) => r.measure)).toEqual(ids));

  it.each([
    ["fc", "strip", "strip"],
    ["rare", "drops", "lab"], // the kit at hand does not read it
    ["temp", "strip", "thermometer"], // whatever the kit
  ])("%s with a kit of %s is read by %s", (id, kit, by) => expect(row(id).defaultMethod(kit)).toBe(by));

  it("keeps a method chosen for one reading", () =>
    expect(methodOf({ kit: "drops", methods: { fc: "lab" } }, row("fc"))).toBe("lab"));
});

describe("readings of a draft", () => {
  const draft = { ...emptyDraft("drops"), texts: { fc: " 6 ", ph: "7,4", cc: "  ", rare: "120" } };

  it("leaves out what is empty and keeps texts as typed", () =>
    expect(readingsOf(draft, rows).map((r) => [r.measure, r.text, r.unit, r.method])).toEqual([
      ["fc", "6", "ppm", "drops"],
      ["ph", "7,4", "", "drops"],
      ["rare", "120", "ppb", "lab"],
    ]));

  it.each([
    ["6", { text: "6", drop_count: 6 }],
    ["2.5", { text: "2.5 drops", drop_count: null }], // refused at its field, not counted as ppm
    ["1000", { text: "1000 drops", drop_count: null }],
  ])("counts %s drops as %o", (text, sent) => {
    const counted = readingsOf({ ...draft, drops: true, texts: { fc: text, ph: "7.4" } }, rows);
    expect(counted[0]).toMatchObject(sent);
    expect(counted[1]).toMatchObject({ text: "7.4", drop_count: null });
  });
});
