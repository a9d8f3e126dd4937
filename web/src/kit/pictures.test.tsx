import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import type { LightOnSensor, NightCurve, YearStrip } from "../api/types";
import { NightPicture } from "../steps/aim/NightPicture";
import { YearPicture } from "../steps/aim/YearPicture";
import { LightPicture } from "../steps/spacing/LightPicture";
import { Mark } from "./Mark";
import { MmRule } from "./MmRule";

const numbers = (markup: string, tag: string, name: string) =>
  [...markup.matchAll(new RegExp(`<${tag}[^>]* ${name}="([-\\d.]+)"`, "g"))].map((found) => Number(found[1]));

describe("verdict marks", () => {
  it("differ in shape, not only in tone", () => {
    const shapes = (["holds", "strains", "breaks"] as const).map((verdict) =>
      renderToStaticMarkup(<Mark verdict={verdict} />),
    );
    expect(shapes[0]).toContain("<circle");
    expect(shapes[0]).not.toContain("<path");
    expect(shapes[1]).toContain("<circle");
    expect(shapes[1]).toContain("<path");
    expect(shapes[2]).not.toContain("<circle");
    expect(new Set(shapes).size).toBe(3);
  });

  it("say their verdict", () => {
    expect(renderToStaticMarkup(<Mark verdict="breaks" />)).toContain('aria-label="breaks"');
  });
});

describe("the millimetre rule", () => {
  const draw = (units: "metric" | "imperial", to = 100) =>
    renderToStaticMarkup(
      <svg>
        <title>rule</title>
        <MmRule from={0} to={to} x={(mm) => mm * 5} y={0} units={units} />
      </svg>,
    );

  it("carries its ticks at true places", () => {
    const places = [...draw("metric").matchAll(/translate\(([\d.]+) 0\)/g)].map((found) => Number(found[1]));
    expect(places[0]).toBe(0);
    expect(places[places.length - 1]).toBe(500);
    const steps = places.slice(1).map((place, i) => place - (places[i] ?? 0));
    expect(new Set(steps.map((step) => step.toFixed(6))).size).toBe(1);
  });

  it("speaks the chosen units", () => {
    expect(draw("metric")).toContain(">mm<");
    expect(draw("imperial")).toContain(">in<");
    // An inch is 25.4 mm, drawn at five to the millimetre.
    expect(draw("imperial", 254)).toContain(`translate(${(2 * 25.4 * 5).toString()} 0)`);
  });
});

const light: LightOnSensor = {
  width_mm: 18,
  height_mm: 12,
  profile: [
    [0, 1],
    [5, 0.9],
    [10.82, 0.4],
  ],
  contours: [
    [0.9, 5],
    [0.5, 9.8],
  ],
  corner: 0.4,
  tight: "nosepiece",
  tight_index: 2,
  tight_mm: 27,
  needed_mm: 31.4,
  prism: null,
  prism_clear_mm: null,
  shade: [],
};

describe("light on the sensor", () => {
  it("draws the sensor at its own proportion", () => {
    const markup = renderToStaticMarkup(<LightPicture light={light} />);
    const [width = 0] = numbers(markup, "rect", "width");
    const [height = 1] = numbers(markup, "rect", "height");
    expect(width / height).toBeCloseTo(1.5, 5);
  });

  it("puts contours at one scale with the sensor and names the tightest opening", () => {
    const markup = renderToStaticMarkup(<LightPicture light={light} />);
    const [width = 1] = numbers(markup, "rect", "width");
    const radii = numbers(markup, "circle", "r");
    expect((radii[1] ?? 0) / width).toBeCloseTo(9.8 / 18, 5);
    expect(markup).toContain("nosepiece, 27.0 of 31.4 mm");
    expect(markup).toContain("corners 40 %");
  });

  it("makes room for the prism over the sensor and draws its shade", () => {
    const markup = renderToStaticMarkup(
      <LightPicture light={{ ...light, prism: [8, 8, 8, 0], prism_clear_mm: 9.1, shade: [[0, 5.5, 0.2]] }} />,
    );
    expect(markup).toContain('class="prism"');
    expect(markup).toContain('class="shade"');
    const tops = numbers(markup, "rect", "y");
    expect(Math.min(...tops)).toBeGreaterThanOrEqual(0);
    expect(markup).toContain("clears at 9.1");
  });
});

const night: NightCurve = {
  facts: {
    site: "Ridge",
    day: "2026-11-25",
    length_h: 24,
    dark_h: 10,
    moments: [],
    moon_illuminated: 0.5,
    words: "dark",
  },
  hours: [0, 6, 12, 18, 24],
  altitude: [10, 50, 70, 30, -5],
  azimuth: [90, 120, 180, 240, 270],
  horizon: [0, 0, 20, 40, 0],
  moon: [-10, 5, 40, 20, -5],
  bands: [
    { kind: "day", start: 0, end: 6 },
    { kind: "twilight", start: 6, end: 7.5 },
    { kind: "dark", start: 7.5, end: 18 },
    { kind: "twilight", start: 18, end: 19.5 },
    { kind: "day", start: 19.5, end: 24 },
  ],
  ticks: [
    [0, "12:00"],
    [12, "00:00"],
  ],
  windows: [[6, 12]],
  floor_deg: 30,
  limit_deg: 45,
  usable_h: 6,
  good_h: 5,
  best_altitude: 70,
  best: { name: "highest in the dark", hour: 12, clock: "00:00" },
  transit: { name: "meridian", hour: 12, clock: "00:00" },
  transit_altitude: 70,
  flip: "",
  moon_separation: 60,
  up: "north",
  rises: "",
};

describe("the night", () => {
  const markup = renderToStaticMarkup(<NightPicture night={night} />);

  it("lays its bands side by side over the whole night", () => {
    const bands = [...markup.matchAll(/<rect x="([\d.]+)"[^>]*width="([\d.]+)"[^>]*class="band-(\w+)"/g)];
    expect(bands.map((band) => band[3])).toEqual(["day", "twilight", "dark", "twilight", "day"]);
    bands.slice(1).forEach((band, i) => {
      const before = bands[i];
      expect(Number(band[1])).toBeCloseTo(Number(before?.[1]) + Number(before?.[2]), 4);
    });
  });

  it("marks the usable stretch, the meridian and the hours", () => {
    expect(markup).toContain('class="usable-line"');
    expect(markup).toContain('class="meridian"');
    expect(markup).toContain("6.0 hours usable");
    expect(markup).toContain(">00:00<");
  });

  it("leaves out what lies below the horizon line", () => {
    const moon = /<path d="([^"]*)" class="moon-line"/.exec(markup)?.[1] ?? "";
    expect(moon.split("L")).toHaveLength(3);
  });

  it("has no meridian mark for what never rises", () => {
    const low = renderToStaticMarkup(
      <NightPicture night={{ ...night, transit_altitude: -3, windows: [] }} />,
    );
    expect(low).not.toContain('class="meridian"');
    expect(low).not.toContain('class="usable-line"');
  });
});

describe("the year", () => {
  const weeks = Array.from({ length: 53 }, (_, i) => ({
    first: new Date(Date.UTC(2026, 0, 1 + 7 * i)).toISOString().slice(0, 10),
    hours: i < 10 ? 8 - i * 0.8 : 0,
    moonless: 0.5,
  }));
  const first = weeks[0];
  const year: YearStrip = {
    weeks,
    best: first ? [first] : [],
    words: "best in early January: 8.0 h a night",
  };
  const markup = renderToStaticMarkup(<YearPicture year={year} onPick={() => {}} />);

  it("has a bar a week, each within reach of a key", () => {
    expect(markup.match(/role="button"/g)).toHaveLength(53);
    expect(markup).toContain('aria-label="Week of 2026-01-01: 8.0 hours a night, 50 % moonless"');
  });

  it("draws heights in proportion to hours and marks the best week", () => {
    const heights = [...markup.matchAll(/height="([\d.]+)" class="week-all"/g)].map((found) =>
      Number(found[1]),
    );
    expect((heights[5] ?? 0) / (heights[0] ?? 1)).toBeCloseTo(4 / 8, 3);
    expect(heights[20]).toBe(0);
    expect(markup.match(/week-moonless best/g)).toHaveLength(1);
  });

  it("names months once each", () => {
    expect(markup.match(/>Feb</g)).toHaveLength(1);
    expect(markup.match(/>Dec</g)?.length ?? 0).toBeLessThanOrEqual(1);
  });
});
