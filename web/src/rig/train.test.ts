import { describe, expect, it } from "vitest";
import type { PathItem } from "../api/types";
import { assembled, item } from "./path";

const entry = (kind: string, name: string, assembly: string | null = null): PathItem =>
  ({ ...item({ kind, name } as never), assembly }) as PathItem;
const names = (path: PathItem[]) => path.map((one) => one.part.name);

describe("laying an assembly", () => {
  const path = [entry("telescope", "scope"), entry("adapter", "ring"), entry("camera", "old")];

  it("takes the camera's place when it brings one, and bears its mark", () => {
    const laid = assembled(path, [entry("filter_holder", "wheel"), entry("camera", "mono")], "head");
    expect(names(laid)).toEqual(["scope", "ring", "wheel", "mono"]);
    expect(laid.map((one) => one.assembly)).toEqual([null, null, "head", "head"]);
  });

  it("goes ahead of the camera when it brings none", () => {
    const laid = assembled(path, [entry("filter_holder", "wheel")], "front");
    expect(names(laid)).toEqual(["scope", "ring", "wheel", "old"]);
  });

  it("replaces itself when it is laid again", () => {
    const once = assembled(path, [entry("camera", "mono")], "head");
    expect(names(assembled(once, [entry("camera", "mono two")], "head"))).toEqual([
      "scope",
      "ring",
      "mono two",
    ]);
  });

  it("makes a path of its own from nothing", () => {
    expect(names(assembled([], [entry("camera", "mono")], "head"))).toEqual(["mono"]);
  });
});
