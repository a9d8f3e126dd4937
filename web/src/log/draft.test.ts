import { describe, expect, it } from "vitest";
import type { SessionShown } from "../api/types";
import {
  blank,
  type Change,
  changed,
  changedFields,
  chosen,
  filled,
  isChanged,
  line,
  made,
  NO_REASON,
  over,
  takenUp,
  thrownAway,
  typed,
  withSubs,
  withTaken,
} from "./draft";

const RECORD: SessionShown["record"] = {
  night: "2026-11-20",
  site: "Alto de Veleda",
  rig_id: "heron",
  rig: "Heron",
  rig_revision: 3,
  origin: "run",
  began: "2026-11-20T19:00:00Z",
  ended: "2026-11-21T01:00:00Z",
  simulated: false,
  seed: 0,
  subs: [{ target: "m101", name: "M101", filter: "Hα", sub_s: 300, planned: 40, taken: 30, kept: 24 }],
  losses: [
    { why: "clouds", count: 4 },
    { why: "satellites", count: 2 },
  ],
  conditions: { temperature_c: 4, seeing_arcsec: 2.1, wind_m_s: 3, words: "calm" },
  people: ["a friend", "another"],
  marks: [],
  note: "first",
} as never;

const change = (part: Partial<Change["draft"]>): Change => {
  const was = typed(RECORD);
  return { version: 1, was, draft: { ...was, ...part }, clashes: [] };
};

describe("a session that is changed", () => {
  it("comes back whole when nothing was changed: every loss, wind, and what the form does not hold", () => {
    expect(changed(RECORD, typed(RECORD))).toEqual(RECORD);
    expect(isChanged(change({}))).toBe(false);
  });

  it("keeps names that hold a comma, and subs of no length, where nobody touched them", () => {
    const odd = {
      ...RECORD,
      people: ["Doe, J.", "another"],
      subs: [{ ...line(), target: "m13", name: "M13", sub_s: 0 }],
    };
    expect(changed(odd, { ...typed(odd), note: "more" })).toEqual({ ...odd, note: "more" });
    expect(filled(odd.subs, { value: "m1", label: "M1" }, 300)).toEqual(odd.subs);
  });

  it("keeps a line that was planned and not taken", () => {
    const subs = [...(RECORD.subs ?? []), { ...line(), target: "m13", name: "M13", taken: 0, kept: 0 }];
    expect(changed(RECORD, { ...typed(RECORD), subs }).subs).toHaveLength(2);
  });

  it("keeps a note that was added elsewhere meanwhile beside a change of another field", () => {
    const theirs = typed({ ...RECORD, note: "first, and a second" });
    const both = over(change({ seeing: 1.8 }), theirs, 2);
    expect(both).toMatchObject({
      version: 2,
      clashes: [],
      draft: { note: "first, and a second", seeing: 1.8 },
    });
    expect(isChanged(both)).toBe(true);
  });

  it("hands back what both changed, each its own way, and keeps mine until it is chosen", () => {
    const theirs = typed({ ...RECORD, note: "theirs", people: [] });
    const both = over(change({ note: "mine" }), theirs, 2);
    const clash = { field: "note", theirs: "theirs" } as const;
    expect(both.clashes).toEqual([clash]);
    expect(both.draft).toMatchObject({ note: "mine", people: "" });
    expect(changedFields(both)).toEqual(["note"]);
    // It is asked still when the page was closed meanwhile, and when something else was changed again.
    expect(over(both, { ...theirs, words: "again" }, 3).clashes).toEqual([clash]);
    expect(chosen(both, clash, true)).toMatchObject({ clashes: [], draft: { note: "mine" } });
    expect(isChanged(chosen(both, clash, false))).toBe(false);
  });

  it("has nothing to ask where both made the same change", () => {
    const both = over(change({ note: "same" }), typed({ ...RECORD, note: "same" }), 2);
    expect(both.clashes).toEqual([]);
    expect(isChanged(both)).toBe(false);
  });
});

describe("a change that an earlier Dravel left", () => {
  it("asks about all that differs, for nobody knows what it was made on", () => {
    const left = { key: "k", from: "", until: "", ...typed(RECORD), why: "clouds", note: "older" };
    const both = over(takenUp(left), typed({ ...RECORD, note: "newer" }), 5);
    expect(both.clashes).toEqual([{ field: "note", theirs: "newer" }]);
    expect(both.draft).not.toHaveProperty("why");
  });
});

describe("what was thrown away", () => {
  const start = { ...blank("2026-11-20"), subs: [{ ...line(), target: "m101" }] };
  const kept = (count: number) => [{ ...line(), target: "m101", kept: count }];

  it("is counted under one reason while there is one", () => {
    const one = withSubs(start, kept(15));
    expect(one.losses).toEqual([{ why: NO_REASON, count: 5 }]);
    const told = { ...one, losses: [{ why: "wind", count: 5 }] };
    expect(withSubs(told, kept(12)).losses).toEqual([{ why: "wind", count: 8 }]);
    expect(withSubs(told, kept(20)).losses).toEqual([]);
  });

  it("is left alone where there are several reasons, or another count was told", () => {
    const several = typed(RECORD);
    const fewer = (several.subs ?? []).map((one) => ({ ...one, kept: 20 }));
    expect(thrownAway(fewer)).toBe(10);
    expect(withSubs(several, fewer).losses).toEqual(RECORD.losses);
    const odd = { ...several, losses: [{ why: "clouds", count: 3 }] };
    expect(withSubs(odd, fewer).losses).toEqual([{ why: "clouds", count: 3 }]);
  });
});

describe("a new night", () => {
  const first = { value: "ic-1805", label: "IC 1805" };

  it("is kept without lines of which nothing was taken, and of the rig's own target and sub where nobody chose", () => {
    const draft = {
      ...blank(""),
      subs: filled([line(), { ...line(), target: "m13", taken: 0 }], first, 300),
    };
    const kept = made(draft, "heron", "2026-11-20");
    expect(kept).toMatchObject({ rig_id: "heron", night: "2026-11-20" });
    expect(kept.subs).toMatchObject([{ target: "ic-1805", name: "IC 1805", sub_s: 300, taken: 20 }]);
  });

  it("sends what has no target, so that it is told and not dropped", () => {
    expect(made({ ...blank(""), subs: filled([line()], undefined, null) }, "heron", "").subs).toHaveLength(1);
  });

  it("plans as many as were taken, where nobody planned otherwise", () => {
    expect(withTaken(line(), 36)).toMatchObject({ planned: 36, taken: 36, kept: 20 });
    expect(withTaken({ ...line(), planned: 40 }, 12)).toMatchObject({ planned: 40, taken: 12, kept: 12 });
  });
});
