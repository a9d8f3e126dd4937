import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import type { LightOnSensor } from "../api/types";
import { LightPicture } from "../steps/spacing/LightPicture";
import { Mark } from "./Mark";
import { MmRule } from "./MmRule";

const numbers = (markup: string, tag: string, name: string) =>
  [...markup.matchAll(new RegExp(`<${tag}[^>]* ${name}="([-\\d.]+)"`, "g"))].map((found) => Number(found[1]));

/** What stands in a picture under a number's key. */
const said = (markup: string, key: string) =>
  new RegExp(`data-figure="${key}"[^>]*>([^<]*)<`).exec(markup)?.[1];

describe("verdict marks", () => {
  it("differ in shape, not only in tone", () => {
    const shapes = (["ok", "warning", "problem"] as const).map((verdict) =>
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
    expect(renderToStaticMarkup(<Mark verdict="problem" />)).toContain('aria-label="problem"');
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
    expect(said(markup, "SensorLight.tight_mm")).toBe("27.0");
    expect(said(markup, "SensorLight.needed_mm")).toBe("31.4");
    expect(markup).toContain("corners 40%");
  });

  it("makes room for the prism over the sensor and draws its shade", () => {
    const markup = renderToStaticMarkup(
      <LightPicture light={{ ...light, prism: [8, 8, 8, 0], prism_clear_mm: 9.1, shade: [[0, 5.5, 0.2]] }} />,
    );
    expect(markup).toContain('class="prism"');
    expect(markup).toContain('class="shade"');
    const tops = numbers(markup, "rect", "y");
    expect(Math.min(...tops)).toBeGreaterThanOrEqual(0);
    expect(said(markup, "SensorLight.prism_clear_mm")).toBe("9.1");
  });
});
