import { describe, expect, it } from "vitest";
import type { Part, Rig } from "../api/types";
import { inShort, item, kindName, laid, movedItem } from "./path";

const part = (kind: string, name: string, more: object = {}) => ({ kind, name, ...more }) as unknown as Part;
const rigOf = (...parts: Part[]): Rig =>
  ({ name: "r", path: parts.map((entry) => item(entry as never)) }) as Rig;
const names = (path: { part: { name: string } }[]) => path.map((entry) => entry.part.name);

const scope = part("telescope", "scope");
const camera = part("camera", "camera");
const ring = part("adapter", "ring");
const reducer = part("corrector", "reducer");

describe("laying a part", () => {
  it("puts the telescope first and replaces the one there is", () => {
    expect(names(laid(rigOf(ring, camera), scope))).toEqual(["scope", "ring", "camera"]);
    expect(names(laid(rigOf(scope, camera), part("telescope", "other")))).toEqual(["other", "camera"]);
  });

  it("puts the camera last and replaces the one there is", () => {
    expect(names(laid(rigOf(scope, ring), camera))).toEqual(["scope", "ring", "camera"]);
    expect(names(laid(rigOf(scope, camera, ring), part("camera", "new")))).toEqual(["scope", "new", "ring"]);
  });

  it("puts a corrector behind the telescope and rings before the camera", () => {
    expect(names(laid(rigOf(scope, ring, camera), reducer))).toEqual(["scope", "reducer", "ring", "camera"]);
    expect(names(laid(rigOf(scope, reducer, camera), ring))).toEqual(["scope", "reducer", "ring", "camera"]);
    expect(names(laid(rigOf(scope, camera), ring, 0))).toEqual(["ring", "scope", "camera"]);
    expect(names(laid(rigOf(), ring))).toEqual(["ring"]);
  });

  it("puts a filter into its holder and in use", () => {
    const path = laid(rigOf(scope, part("filter_holder", "drawer"), camera), part("filter", "line"));
    expect(path[1]?.filters).toHaveLength(1);
    expect(path[1]?.in_use).toBe(0);
    expect(names(laid(rigOf(scope, camera), part("filter", "line")))).toEqual(["scope", "camera"]);
  });

  it("never changes the rig it was given", () => {
    const rig = rigOf(scope, camera);
    laid(rig, ring);
    expect(names(rig.path ?? [])).toEqual(["scope", "camera"]);
  });
});

describe("moving a part", () => {
  const path = rigOf(scope, ring, reducer, camera).path ?? [];
  it("moves by one and stops at the ends", () => {
    expect(names(movedItem(path, 1, 2))).toEqual(["scope", "reducer", "ring", "camera"]);
    expect(names(movedItem(path, 1, 9))).toEqual(["scope", "reducer", "camera", "ring"]);
    expect(names(movedItem(path, 3, -5))).toEqual(["camera", "scope", "ring", "reducer"]);
    expect(names(movedItem(path, 7, 0))).toEqual(["scope", "ring", "reducer", "camera"]);
  });
});

describe("words for parts", () => {
  it("tells kinds and parts apart", () => {
    expect(kindName("off_axis_guider")).toBe("off-axis guider");
    expect(inShort(part("telescope", "t", { focal_length_mm: 464, design: "ritchey_chretien" }))).toBe(
      "464 mm, ritchey chretien, circle ? mm",
    );
    const sensor = { width_px: 100, height_px: 50, pixel_um: 3.8, colour: "mono" };
    expect(inShort(part("camera", "c", { sensor }))).toBe("100 × 50, 3.8 µm, mono");
    expect(inShort(part("corrector", "k", { role: "coma_corrector", factor: 0.95, back_focus_mm: 55 }))).toBe(
      "coma corrector ×0.95, back focus 55 mm",
    );
    expect(inShort(part("filter", "f", { use: "h_alpha", size: "M48x0.75" }))).toBe("h alpha, M48x0.75");
    expect(inShort(part("filter_holder", "h", { style: "drawer", optical_length_mm: 21 }))).toBe(
      "drawer, 21 mm",
    );
    expect(inShort(ring)).toBe("? mm, ? → ?");
  });
});
