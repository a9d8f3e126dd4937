import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import { inLanguage } from "./language";
import { Phrase, phrase } from "./phrase";

describe("phrases", () => {
  it("fills places by name, in whatever order a language has them", () => {
    expect(phrase("{count} of {all} subs", { count: 3, all: 0 })).toBe("3 of 0 subs");
    expect(phrase("{all}: {count}{more}", { count: 3, all: "x", more: undefined })).toBe("x: 3");
    expect(renderToStaticMarkup(<Phrase of="{a} then {b}." with={{ b: <b>2</b>, a: false }} />)).toBe(
      " then <b>2</b>.",
    );
  });

  it("speaks another language where it has the words", () => {
    const other = { here: { Save: "[Save]" } };
    expect(inLanguage("here", { save: "Save", end: "End" }, other)).toEqual({ save: "[Save]", end: "End" });
    expect(inLanguage("elsewhere", { save: "Save" }, other)).toEqual({ save: "Save" });
  });
});
