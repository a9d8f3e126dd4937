import { describe, expect, it } from "vitest";
import { boxOf, placed, wide } from "./labels";

const within = { left: 0, top: 0, right: 200, bottom: 100 };
const at = (words: string, x: number, y: number) => ({ key: words, words, x, y });

describe("names on a picture", () => {
  it("leaves out what would lie over a name before it", () => {
    const names = placed([at("NGC 7000", 20, 40), at("IC 5070", 40, 44), at("IC 5068", 20, 70)], [], within);
    expect(names.map((one) => one.words)).toEqual(["NGC 7000", "IC 5068"]);
  });

  it("goes by the width of the words, not by a fixed distance", () => {
    const long = "a name that runs on across the picture";
    const beside = 10 + wide(long) - 20;
    expect(placed([at(long, 10, 40), at("M1", beside, 40)], [], { ...within, right: 900 })).toHaveLength(1);
    expect(placed([at("M1", 10, 40), at("M2", 40, 40)], [], within)).toHaveLength(2);
  });

  it("keeps inside the picture and off what stands there", () => {
    expect(placed([at("NGC 7000", 180, 40)], [], within)).toHaveLength(0);
    expect(placed([at("NGC 7000", 20, 5)], [], within)).toHaveLength(0);
    expect(placed([at("NGC 7000", 20, 40)], [boxOf(at("Wren", 30, 38))], within)).toHaveLength(0);
  });
});
