import { describe, expect, it } from "vitest";
import { clock } from "./ClockInput";

describe("times on a clock", () => {
  it.each([
    ["21:30", "21:30"],
    ["2130", "21:30"],
    ["21.30", "21:30"],
    ["9", "09:00"],
    ["9:5", "09:05"],
    [" 0:07 ", "00:07"],
    ["930", "09:30"],
  ])("reads %s", (text, read) => expect(clock(text)).toBe(read));

  it.each(["", "24:00", "12:60", "half past", "123456", "-1", "12:"])("does not read '%s'", (text) =>
    expect(clock(text)).toBeNull(),
  );
});
