import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import { Drawtube } from "./Example";
import { arrow } from "./plot";

const key = (name: string, more: object = {}) =>
  arrow({ key: name, shiftKey: false, ctrlKey: false, metaKey: false, altKey: false, ...more } as never);

describe("a picture made with the kit", () => {
  const markup = renderToStaticMarkup(
    <Drawtube out_mm={30} travel_mm={60} show={() => {}} keep={() => {}} />,
  );

  it("draws to scale and tells its handle to eyes and ears in the same words", () => {
    expect(markup).toContain('width="150"');
    expect(markup).toContain('aria-valuetext="30.0 mm out"');
    expect(markup).toContain('data-says="Drawtube: 30.0 mm out"');
    expect(markup).toContain('aria-valuemax="60"');
    expect(markup).toContain("drag the drawtube");
  });
});

describe("arrow keys", () => {
  it("point as they are drawn, upwards with y, in tens with Shift", () => {
    expect(key("ArrowUp")).toEqual({ x: 0, y: 1 });
    expect(key("ArrowLeft", { shiftKey: true })).toEqual({ x: -10, y: 0 });
  });

  it("belong to others with Ctrl, Alt or Meta", () => {
    expect(key("ArrowUp", { altKey: true })).toBeNull();
    expect(key("ArrowUp", { ctrlKey: true })).toBeNull();
    expect(key("a")).toBeNull();
  });
});
