/** The drawings of Load, Guide, Power, Sky and Board draw what the server said, no more. */

import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import type { GuidePatchView, MountView, Rig, YearStrip } from "../api/types";
import { moneyWords } from "../growth/money";
import { ticks } from "../kit/ticks";
import { GEAR_KINDS, withGear } from "../rig/gear";
import { inShort, inTheLight, kindName } from "../rig/path";
import { KINDS } from "../sky/kinds";
import { YearLine } from "../sky/YearLine";
import { terms } from "../terms/mount";
import { phrase } from "../terms/phrase";
import { GuidePatch } from "./guiding/GuidePatch";
import { Elevation } from "./mount/Elevation";
import { TipRose } from "./mount/TipRose";

const said = (text: string) => ({ text, template: "", parts: {} });
const nothing = () => undefined;
const rig = { name: "Test", riders: [], counterweights: [] } as unknown as Rig;

function loadView(change: Partial<MountView> = {}): MountView {
  return {
    boxes: [
      {
        name: "tube",
        kind: "telescope",
        x: -200,
        y: 100,
        width: 400,
        height: 100,
        mass_kg: 4.2,
        rider: null,
      },
    ],
    weights: [],
    shaft: [95, 345],
    shaft_diameter_mm: 20,
    saddle_mm: 164,
    saddle_length_mm: 120,
    saddle_y: 95,
    slide: [111, 217],
    centre: [10, 150],
    moments: [
      { name: said("right ascension"), value_nm: 0.4, limit_nm: 20, verdict: "ok" },
      { name: said("declination"), value_nm: -0.7, limit_nm: 0.5, verdict: "warning" },
    ],
    winds: [],
    again: [],
    choices: [],
    slid: null,
    balanced_saddle_mm: 170,
    trips: [],
    cases: [],
    tips: [],
    feet: 3,
    spreader_kg: 0,
    mark: "",
    notes: [],
    figures: [],
    ...change,
  } as MountView;
}

const drawn = (view: MountView, over: Partial<Rig> = {}) =>
  renderToStaticMarkup(
    <Elevation
      chosen={null}
      onChoose={nothing}
      rig={{ ...rig, mount: { name: "mount" }, ...over } as Rig}
      view={view}
      onPreview={nothing}
      onSettle={nothing}
      onGiveUp={nothing}
    />,
  );

describe("the side elevation", () => {
  it("says where the saddle sits and how far it may", () => {
    const html = drawn(loadView());
    expect(html).toContain('aria-label="Tube in the saddle"');
    expect(html).toContain('aria-valuenow="164"');
    expect(html).toContain('aria-valuemin="111"');
    expect(html).toContain('aria-valuemax="217"');
    expect(html).toContain("saddle 164 mm ahead of the rear shoulder");
  });

  it("marks a moment over its limit", () => {
    expect(drawn(loadView())).toContain('class="turn over"');
    const even = loadView({
      moments: [
        { name: said("right ascension"), value_nm: 0, limit_nm: 20, verdict: "ok" },
        { name: said("declination"), value_nm: 0.1, limit_nm: 0.5, verdict: "ok" },
      ],
    } as Partial<MountView>);
    expect(drawn(even)).not.toContain('class="turn over"');
  });

  it("draws weights as handles and tells those off the shaft", () => {
    const weight = {
      index: 0,
      name: "5 kg",
      position_mm: 228,
      thickness_mm: 70,
      diameter_mm: 110,
      mass_kg: 5,
      on_shaft: true,
    };
    const on = drawn(loadView({ weights: [weight] }));
    expect(on).toContain('aria-label="5 kg on the shaft"');
    expect(on).toContain("228 mm from the axis");
    expect(on).not.toContain("handle off");
    const off = drawn(loadView({ weights: [{ ...weight, position_mm: 360, on_shaft: false }] }));
    expect(off).toContain("weight handle off");
  });

  it("draws riders where they sit and on which side", () => {
    const view = loadView({
      boxes: [
        { name: "scope", kind: "guide_scope", x: 10, y: 220, width: 200, height: 60, mass_kg: 0.8, rider: 0 },
      ],
    });
    const html = drawn(view, {
      riders: [
        { part: { kind: "guide_scope", name: "scope" }, along_mm: 110, off_mm: 90, side: "left" },
      ] as unknown as Rig["riders"],
    });
    expect(html).toContain("110 mm along, 90 mm off, left");
    expect(html).toContain("body rider handle left");
  });

  it("keeps to scale: twice as long is twice as wide", () => {
    const widths = (width: number) => {
      const view = loadView({
        boxes: [
          { name: "a", kind: "camera", x: 0, y: 100, width, height: 10, mass_kg: 1, rider: null },
          { name: "b", kind: "camera", x: -400, y: 100, width: 100, height: 10, mass_kg: 1, rider: null },
        ],
      });
      const found = [...drawn(view).matchAll(/class="body camera"[^>]*width="([\d.]+)"/g)].map((m) =>
        Number(m[1]),
      );
      return (found[0] ?? 0) / (found[1] ?? 1);
    };
    expect(widths(100)).toBeCloseTo(1);
    expect(widths(200)).toBeCloseTo(2);
  });
});

describe("the feet from above", () => {
  const tips = (margin: number) => [0, 90, 180, 270].map((direction_deg) => ({ direction_deg, margin }));
  it("tells the worst direction", () => {
    const html = renderToStaticMarkup(
      <TipRose tips={[...tips(4), { direction_deg: 60, margin: 1.3 }]} words="1.3 × firm" feet={3} />,
    );
    expect(html.replace(/<[^>]+>/g, "")).toBe(
      phrase(terms.fromAboveWordsInsideTheRing, { words: "1.3 × firm" }),
    );
    expect(html).toContain("MountTip.margin");
    expect(html.match(/class="foot"/g)).toHaveLength(3);
  });
  it("says when nothing tips it", () => {
    expect(renderToStaticMarkup(<TipRose tips={tips(99)} words="nothing tips it" feet={4} />)).toContain(
      "nothing tips it",
    );
  });
});

describe("the guide patch", () => {
  const patch = {
    target: "NGC 891",
    ra_deg: 35,
    dec_deg: 42,
    radius_deg: 1,
    patch: [
      [0.1, 0.7],
      [-0.1, 0.7],
      [-0.1, 0.5],
      [0.1, 0.5],
    ],
    footprint: [
      [0.3, 0.2],
      [-0.3, 0.2],
      [-0.3, -0.2],
      [0.3, -0.2],
    ],
    stars: [
      [0, 0.6, 8.2],
      [0.2, -0.3, 6.1],
    ],
    inside: 1,
    faintest: 10,
  } as unknown as GuidePatchView;
  it("draws its stars and both outlines", () => {
    const html = renderToStaticMarkup(<GuidePatch patch={patch} />);
    expect(html.match(/class="star"/g)).toHaveLength(2);
    expect(html).toContain("patch-outline");
    expect(html).toContain("1 catalogue star in");
  });
  it("draws east to the left and bright stars larger", () => {
    const html = renderToStaticMarkup(<GuidePatch patch={patch} />);
    const stars = [...html.matchAll(/<circle cx="([\d.]+)" cy="([\d.]+)" r="([\d.]+)"/g)].map((m) =>
      m.slice(1).map(Number),
    );
    expect(stars[1]?.[0]).toBeLessThan(stars[0]?.[0] ?? 0);
    expect(stars[1]?.[2]).toBeGreaterThan(stars[0]?.[2] ?? 0);
  });
});

describe("a year in a line", () => {
  it("marks the best weeks", () => {
    const weeks = [...Array(53)].map((_, i) => ({ first: `w${i}`, hours: i / 5, moonless: 0.5 }));
    const year = {
      weeks,
      best: weeks.slice(50),
      words: said("best in late December"),
    } as unknown as YearStrip;
    const html = renderToStaticMarkup(<YearLine year={year} />);
    expect(html.match(/class="best"/g)).toHaveLength(3);
    expect(html).toContain("Year: best in late December");
  });
});

describe("round marks", () => {
  it.each([
    [0, 100, 5, [0, 20, 40, 60, 80, 100]],
    [-355, 235, 6, [-300, -200, -100, 0, 100, 200]],
    [0, 11.2, 8, [0, 2, 4, 6, 8, 10]],
    [-0.2, 0.3, 5, [-0.2, -0.1, 0, 0.1, 0.2, 0.3]],
  ])("between %d and %d", (low, high, about, expected) => {
    for (const [i, mark] of ticks(low, high, about).entries())
      expect(mark).toBeCloseTo(expected[i] as number);
    expect(ticks(low, high, about)).toHaveLength(expected.length);
  });
});

describe("money", () => {
  it("keeps currencies apart", () => {
    expect(moneyWords([])).toBe("—");
    expect(moneyWords([{ currency: "EUR", amount: 1239.6 }])).toBe("1,240 EUR");
    expect(
      moneyWords([
        { currency: "EUR", amount: 100 },
        { currency: "USD", amount: 20 },
      ]),
    ).toBe("100 EUR + 20 USD");
  });
});

describe("gear", () => {
  const part = (kind: string, more: object = {}) => ({ kind, name: kind, ...more }) as never;
  it("goes where it belongs", () => {
    expect(withGear(rig, part("mount"))?.mount).toBeTruthy();
    expect(withGear(rig, part("support"))?.support).toBeTruthy();
    expect(withGear(rig, part("rider"))?.riders).toHaveLength(1);
    expect(withGear(rig, part("power_source"))?.supply?.source).toBeTruthy();
    expect(withGear(rig, part("cable"))?.supply?.cables).toHaveLength(1);
    expect(withGear(rig, part("accessory"))?.extras).toHaveLength(1);
    expect(withGear(rig, part("camera"))).toBeNull();
  });
  it("hangs a weight in the middle of the shaft", () => {
    const mounted = { ...rig, mount: { shaft: { start_mm: 100, end_mm: 300 } } } as unknown as Rig;
    expect(withGear(mounted, part("counterweight"))?.counterweights?.[0]?.position_mm).toBe(200);
    expect(withGear(rig, part("counterweight"))?.counterweights?.[0]?.position_mm).toBe(200);
  });
  it("lays a dew heater on the tube and other riders above it", () => {
    expect(withGear(rig, part("dew_heater"))?.riders?.[0]?.off_mm).toBe(0);
    expect(withGear(rig, part("guide_scope"))?.riders?.[0]?.off_mm).toBe(100);
  });
  it("is never laid into the light", () => {
    for (const kind of GEAR_KINDS) expect(inTheLight(part(kind))).toBe(false);
    expect(inTheLight(part("filter"))).toBe(false);
    expect(inTheLight(part("corrector"))).toBe(true);
  });
  it("is named and told in short", () => {
    expect(GEAR_KINDS.map(kindName).every((name) => name.length > 3)).toBe(true);
    expect(inShort(part("mount", { style: "strain_wave", payload_kg: 13 }))).toBe("strain wave, 13 kg");
    expect(inShort(part("counterweight", { mass_g: 5100, bore_mm: 20 }))).toBe("5.1 kg, bore 20 mm");
    expect(inShort(part("power_source", { mains: true, max_a: 15 }))).toBe("mains, 15 A");
    expect(inShort(part("power_source", { energy_wh: 256, max_a: 20 }))).toBe("256 Wh, 20 A");
    expect(inShort(part("cable", { length_mm: 2000, conductor_mm2: 1.5 }))).toBe("2 m, 1.5 mm²");
    expect(inShort(part("guide_scope", { aperture_mm: 50, focal_length_mm: 200 }))).toBe("50 mm, 200 mm");
    expect(inShort(part("dew_heater", { aperture_mm: 90, power: { typical_w: 8 } }))).toBe(
      "up to 90 mm, 8 W",
    );
    expect(inShort(part("support", { style: "pier", height_mm: 900, capacity_kg: 60 }))).toContain(
      "carries 60 kg",
    );
    expect(inShort(part("accessory", { function: "spreader_weight" }))).toBe("spreader weight");
    expect(inShort(part("rider", { mass_g: 190 }))).toBe("190 g");
  });
});

describe("kinds of light", () => {
  it("are each there once", () => {
    expect(new Set(KINDS).size).toBe(KINDS.length);
  });
});
