import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import type { Designed, DesignPoint } from "../api/types";
import { Fields } from "./Fields";
import { isShown, Plane, standsAt, UNBRUSHED } from "./Plane";
import { moneyOf, START } from "./request";
import { type Design, type DesignEvent, told } from "./useDesign";

const point = (
  row: number,
  money: number,
  fit: number,
  more: Partial<DesignPoint["scores"]> = {},
): DesignPoint => ({
  row,
  name: `rig ${row}`,
  camera: "a camera",
  guided: "none",
  scores: { money, fit, mass_kg: 20, speed: 1, ease: 5, ...more },
  warnings: 0,
  trips: 1,
});
const POINTS = [point(1, 0, 0.2), point(2, 500, 0.6, { speed: 2 }), point(3, 900, 0.5, { mass_kg: 8 })];

const nothing = () => undefined;
const plane = (changed: Partial<Parameters<typeof Plane>[0]> = {}) =>
  renderToStaticMarkup(
    <Plane
      points={POINTS}
      sure
      chosen={2}
      hovered={null}
      brushed={UNBRUSHED}
      choose={nothing}
      hover={nothing}
      brush={nothing}
      currency="EUR"
      {...changed}
    />,
  );
const circles = (markup: string) => markup.match(/<circle[^>]*>/g) ?? [];

const said = (text: string) => ({ text, code: "", template: "", parts: {} });

describe("the plane of trade-offs", () => {
  it("has every rig, told in words, the chosen one marked", () => {
    const found = circles(plane());
    expect(found).toHaveLength(3);
    const marked = found.filter((one) => one.includes('aria-selected="true"'));
    expect(marked).toHaveLength(1);
    expect(marked[0]).toContain('aria-label="rig 2, 500 EUR, framing score 60%, 20.0 kg"');
  });

  it("fills what frames most for its money", () => {
    const leads = circles(plane()).filter((one) => /class="[^"]*leads/.test(one));
    expect(leads.map((one) => /rig \d/.exec(one)?.[0]).sort()).toEqual(["rig 1", "rig 2"]);
  });

  it("draws the heavy first and larger, so that the light can be pressed", () => {
    const found = circles(plane());
    const radii = found.map((one) => Number(/ r="([\d.]+)"/.exec(one)?.[1]));
    expect(radii).toEqual([...radii].sort((a, b) => b - a));
    expect(radii.at(-1)).toBeLessThan(radii[0] as number);
  });

  it("fades what lies outside what is drawn in, and what may yet be beaten", () => {
    const faded = circles(plane({ brushed: { ...UNBRUSHED, fit: [0, 55] } })).filter((one) =>
      one.includes("brushed"),
    );
    expect(faded).toHaveLength(1);
    expect(circles(plane({ sure: false })).every((one) => one.includes("so-far"))).toBe(true);
  });

  it("stands empty without a rig", () => {
    expect(circles(plane({ points: [], chosen: null }))).toHaveLength(0);
  });
});

describe("what is drawn in", () => {
  it.each([
    ["money", [0, 400], [1]],
    ["mass", [0, 10], [3]],
    ["speed", [90, 100], [2]],
    ["ease", [6, 10], []],
    ["fit", [50, 100], [2, 3]],
  ] as const)("keeps by %s", (axis, span, rows) => {
    const kept = POINTS.filter((one) => isShown(one, { ...UNBRUSHED, [axis]: span }, 2));
    expect(kept.map((one) => one.row)).toEqual(rows);
  });

  it("tells speed against the fastest, and nothing against nothing", () => {
    expect(standsAt(point(1, 0, 0), "speed", 2)).toBe(50);
    expect(standsAt(point(1, 0, 0), "speed", 0)).toBe(0);
  });
});

describe("a design as it comes", () => {
  const start: Design = {
    points: [],
    sure: false,
    answer: null,
    words: "",
    share: 0,
    running: true,
    fault: "",
    of: START,
  };
  const event = (more: Partial<DesignEvent>): DesignEvent => ({
    kind: "rig",
    words: said(""),
    done: 0,
    total: 0,
    point: null,
    sure: false,
    answer: null,
    ...more,
  });

  it("shows what was seen so far until something is sure", () => {
    const seen = told(start, event({ point: point(9, 1, 0.1) }));
    expect(seen.points.map((one) => one.row)).toEqual([9]);
    const sure = told(seen, event({ point: point(4, 1, 0.1), sure: true }));
    expect(sure.points.map((one) => one.row)).toEqual([4]);
    expect(sure.sure).toBe(true);
  });

  it("tells how far it is", () => {
    expect(told(start, event({ kind: "progress", done: 1, total: 4, words: said("1 of 4") }))).toMatchObject({
      share: 0.25,
      words: "1 of 4",
    });
  });

  it("puts the answer's order on what came", () => {
    const both = [4, 7].reduce<Design>(
      (now, row) => told(now, event({ point: point(row, 1, 0.1), sure: true })),
      start as never,
    );
    const whole = told(both, event({ kind: "answer", answer: { rows: [7, 4] } as never }));
    expect(whole.points.map((one) => one.row)).toEqual([7, 4]);
  });

  it("says what failed and keeps what stands", () => {
    const one = told(start, event({ point: point(4, 1, 0.1), sure: true }));
    expect(told(one, event({ kind: "failed", words: said("too long") }))).toMatchObject({
      fault: "too long",
      points: one.points,
    });
  });
});

describe("fields over targets", () => {
  it("draws every target at the one scale of the field", () => {
    const target = {
      name: "A",
      major_deg: 1,
      minor_deg: 0.5,
      turned_deg: 0,
      tiles: 1,
      counts: 1,
      words: "50%",
    };
    const far = { ...target, name: "B", major_deg: 0, minor_deg: 0, counts: 0, words: "12 tiles" };
    const designed = { field_deg: [2, 1], targets: [target, far] } as unknown as Designed;
    const [first = "", second = ""] =
      renderToStaticMarkup(<Fields designed={designed} />).match(/<li.*?<\/li>/g) ?? [];
    const wide = Number(/ width="([\d.]+)"/.exec(first)?.[1]);
    expect(Number(/ rx="([\d.]+)"/.exec(first)?.[1])).toBeCloseTo(wide / 4);
    expect(second).toContain("faint");
    expect(/ rx="([\d.]+)"/.exec(second)?.[1]).toBe("1");
  });
});

describe("money", () => {
  it.each([
    [0, "0 EUR"],
    [1234.6, "1,235 EUR"],
  ])("is told whole: %s", (amount, words) => {
    expect(moneyOf(amount)).toBe(words);
  });
});
