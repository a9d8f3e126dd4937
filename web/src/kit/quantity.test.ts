import { describe, expect, it } from "vitest";
import formats from "../api/generated/formats.json";
import {
  about,
  degrees,
  duration,
  fixed,
  format,
  hours,
  joined,
  parse,
  plain,
  readings,
  share,
  shown,
  withUnit,
} from "./quantity";

describe("numbers are written as the core writes them", () => {
  const forms: Record<string, (value: number) => string> = {
    whole: (value) => fixed(value, 0),
    tenths: (value) => fixed(value, 1),
    duration,
    about,
    share: (value) => share(value / 100),
  };
  it.each(
    Object.entries(formats.examples).flatMap(([form, pairs]) =>
      pairs.map((pair) => [form, ...pair] as const),
    ),
  )("%s of %d", (form, value, written) => {
    expect(forms[form]?.(value as number)).toBe(written);
  });
});

describe("numbers typed with a unit", () => {
  // Definitions: the inch is 25.4 mm, the pound 453.59237 g (international yard and pound agreement, 1959).
  it.each([
    ["55", "mm", 55],
    ["55 mm", "mm", 55],
    ["2in", "mm", 50.8],
    ['2"', "mm", 50.8],
    ["1.5 cm", "mm", 15],
    ["16,5", "mm", 16.5],
    [" 0.5 m ", "mm", 500],
    ["11 lb", "g", 4989.51607],
    ["1 kg", "g", 1000],
    ["8 oz", "g", 226.796185],
    ["3.76um", "µm", 3.76],
    ["3760 nm", "µm", 3.76],
    ["1.5°", "′", 90],
    ["-2.6", "°", -2.6],
    ["1e3", "g", 1000],
    ["1240 m", "m", 1240],
    ["4068 ft", "m", 1239.9264],
    ["1,200", "mm", 1200],
    ["1,234.5 mm", "mm", 1234.5],
    ["12,345,678", "g", 12_345_678],
    ["1.234,5", "mm", 1234.5],
    ["1 200 mm", "mm", 1200],
    ["-1,200", "m", -1200],
    ["−2.5", "°", -2.5],
    ["0,125", "mm", 0.125],
    ["12,50", "mm", 12.5],
    ["1200,5", "mm", 1200.5],
    ["1.234", "mm", 1.234],
  ])("reads %s in %s", (text, unit, value) => {
    expect(parse(text, unit, "metric")).toBeCloseTo(value, 6);
  });

  it.each([
    ["", "mm"],
    ["abc", "mm"],
    ["5 kg", "mm"],
    ["5 mm", "g"],
    ["1.2.3", "mm"],
    ["1,2,3", "mm"],
    ["1,200,3", "mm"],
    ["1.234.5,6", "mm"],
    ["--5", "mm"],
    ["5 mm mm", "mm"],
    ["0x10", "mm"],
    ["Infinity", "mm"],
    ["NaN", "mm"],
  ])("does not read '%s' in %s", (text, unit) => {
    expect(parse(text, unit, "metric")).toBeNull();
  });

  it("offers one and a fifth where twelve hundred cannot be meant", () => {
    expect(readings("1,200", "mm", "metric")).toEqual([1200, 1.2]);
    expect(readings("16,5", "mm", "metric")).toEqual([16.5]);
  });

  it("takes a bare number in the units shown", () => {
    expect(parse("2", "mm", "imperial")).toBeCloseTo(50.8);
    expect(parse("2 mm", "mm", "imperial")).toBe(2);
    expect(parse("2", "µm", "imperial")).toBe(2);
  });

  it("comes back to what was shown", () => {
    for (const unit of ["mm", "g", "kg", "m", "″"]) {
      for (const value of [0.1, 1, 55, 1234.5]) {
        const out = shown(value, unit, "imperial");
        expect(parse(String(out.value), unit, "imperial")).toBeCloseTo(value, 6);
      }
    }
  });
});

describe("numbers as people read them", () => {
  it("drops zeros that say nothing", () => {
    expect(plain(55)).toBe("55");
    expect(plain(16.5)).toBe("16.5");
    expect(plain(0.6543)).toBe("0.65");
    expect(plain(1e-9)).toBe("0");
  });

  it("shows decimals as asked, and at least two in imperial", () => {
    expect(format(371.2, "mm", 0)).toEqual(["371", "mm"]);
    expect(format(371.2, "mm", 0, "imperial")).toEqual(["14.61", "in"]);
    expect(format(1.9448, "″/px", 2, "imperial")).toEqual(["1.94", "″/px"]);
  });

  it("gives no sign to what rounds to nothing", () => {
    expect(fixed(-0.04, 1)).toBe("0.0");
    expect(fixed(-0.4, 0)).toBe("0");
    expect(fixed(-0.06, 1)).toBe("−0.1");
    expect(fixed(-10, 0)).toBe("−10");
  });

  it("writes right ascension and declination", () => {
    expect(hours(312.75)).toBe("20h 51m 00s");
    expect(hours(0)).toBe("0h 00m 00s");
    expect(hours(359.9999)).toBe("0h 00m 00s");
    expect(degrees(30.95)).toBe("+30° 57′");
    expect(degrees(-0.5)).toBe("−0° 30′");
    expect(degrees(89.9999)).toBe("+90° 00′");
  });
});

describe("numbers and signs", () => {
  it.each([
    ["50", "%", "50%"],
    ["1.6", "×", "1.6×"],
    ["31.7", "′", "31.7′"],
    ["5–25", "kg", "5–25 kg"],
    ["4.32", "", "4.32"],
  ])("%s and %s stand as %s", (number, unit, written) => {
    expect(joined(number, unit)).toBe(written);
  });

  it("writes a value with its unit", () => {
    expect(withUnit(-0.5, "mm")).toBe("−0.5 mm");
  });

  it.each([
    [0, "0%"],
    [0.0001, "<1%"],
    [0.0049, "<1%"],
    [0.005, "1%"],
    [0.37, "37%"],
    [1, "100%"],
  ])("a share of %s is %s", (of, written) => {
    expect(share(of)).toBe(written);
  });
});
