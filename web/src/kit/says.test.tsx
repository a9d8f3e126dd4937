import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import type { Sentence } from "../api/types";
import { MOVED_PLACES, MOVED_STEPS } from "../app/places";
import { MEANINGS, piecesOf } from "../guide/glossary";
import { addressOf, PAGES, searched } from "../guide/pages";
import { helpOf } from "../guide/placeOf";
import { STEPS } from "../steps";
import { Num } from "./Calculated";
import { coordinate, fixed, plain, withUnit } from "./quantity";
import { Says } from "./Says";

const value = (text: string, key: string) => ({ text, key, inside: null });
const sentence: Sentence = {
  text: "Focus needs 95.3 mm; travel is 85 mm.",
  code: "",
  template: "Focus needs {needed}; travel is {travel}.",
  parts: { needed: value("95.3 mm", "S4.needed"), travel: value("85 mm", "S4.travel") },
};
const drawn = (node: React.ReactNode) =>
  renderToStaticMarkup(<QueryClientProvider client={new QueryClient()}>{node}</QueryClientProvider>);

describe("a sentence of the core", () => {
  it("is drawn with a key at each number", () => {
    const html = drawn(<Says text={sentence} />);
    expect(html.match(/data-figure="S4\.\w+"/g)).toEqual([
      'data-figure="S4.needed"',
      'data-figure="S4.travel"',
    ]);
    expect(html.replace(/<[^>]+>/g, "")).toBe(sentence.text);
  });

  it("has no buttons on something that is pressed", () => {
    const html = drawn(<Says text={sentence} still />);
    expect(html).not.toContain("<button");
    expect(html).toContain('data-figure="S4.needed"');
  });

  it("draws sentences within it, names and what has no template", () => {
    const outer: Sentence = {
      text: `Heron: ${sentence.text}`,
      code: "",
      template: "{rig}: {reason}",
      parts: {
        rig: { text: "Heron", key: "", inside: null },
        reason: { text: sentence.text, key: "", inside: sentence },
      },
    };
    expect(drawn(<Says text={outer} />).replace(/<[^>]+>/g, "")).toBe(outer.text);
    expect(drawn(<Says text={{ text: "no camera yet", code: "", template: "", parts: {} }} />)).toBe(
      "no camera yet",
    );
  });

  it("keeps a name with braces as it is", () => {
    const odd: Sentence = {
      text: "Add ring {M48}",
      code: "",
      template: "Add {part}",
      parts: { part: { text: "ring {M48}", key: "", inside: null } },
    };
    expect(drawn(<Says text={odd} />)).toBe("Add ring {M48}");
  });
});

describe("a number of an answer", () => {
  it("opens its calculation by its key", () => {
    const html = drawn(<Num of="ExposureSub.sub_s">180</Num>);
    expect(html).toContain('data-figure="ExposureSub.sub_s"');
    expect(html).toContain("<button");
  });
  it("is quiet on something pressed", () => {
    expect(
      drawn(
        <Num of="ExposureSub.sub_s" still>
          180
        </Num>,
      ),
    ).toBe('<span data-figure="ExposureSub.sub_s">180</span>');
  });
});

describe("numbers as they are written", () => {
  it.each([
    [-1.25, 1, "−1.3"],
    [-0.04, 1, "0.0"],
    [0, 2, "0.00"],
  ])("%d with %d decimals has a true minus", (number, decimals, words) => {
    expect(fixed(number, decimals)).toBe(words);
  });
  it("has signs close to the number and units apart", () => {
    expect(withUnit(-5, "°")).toBe("−5°");
    expect(withUnit(5, "mm")).toBe("5 mm");
    expect(plain(-0.5)).toBe("−0.5");
  });
  it("writes places of drawings in ASCII", () => {
    expect(coordinate(-1.26)).toBe("-1.3");
  });
});

describe("addresses", () => {
  it.each(Object.entries(MOVED_STEPS))("of the step %s lead to %s", (before, now) => {
    expect(STEPS.map((one) => one.key)).toContain(now);
    expect(STEPS.map((one) => one.key)).not.toContain(before);
  });
  it("of places are all different", () => {
    const all = [...Object.keys(MOVED_PLACES), ...Object.values(MOVED_PLACES)];
    expect(new Set(all).size).toBe(all.length);
  });
  it.each([
    ["/", "/guide/start"],
    ["/parts", "/guide/shelf"],
    ["/rigs/heron/optics", "/guide/optics"],
    ["/rigs/heron/spacing", "/guide/spacing"],
    ["/rigs/heron/guiding", "/guide/guiding"],
    ["/backups", "/guide/keep"],
  ])("%s has its page of the guide", (place, page) => {
    expect(helpOf(place)).toBe(page);
    expect(PAGES.some((one) => `/guide/${one.name}` === page)).toBe(true);
  });
});

describe("the guide", () => {
  it("has pages and tutorials with titles", () => {
    expect(PAGES.length).toBeGreaterThan(20);
    expect(PAGES.every((page) => page.title.length > 2 && page.text.length > 100)).toBe(true);
    expect(PAGES.filter((page) => page.tutorial)).toHaveLength(7);
  });
  it("leads its links to pages of the application", () => {
    for (const page of PAGES)
      for (const [, href = ""] of page.text.matchAll(/\]\(([^)]+)\)/g)) {
        const to = addressOf(href);
        expect(to, `${page.name}: ${href}`).toMatch(/^(\/guide\/|\/rules|\/guide$|#|https?:)/);
      }
    expect(addressOf("../rules.md#S4")).toBe("/rules/S4");
    expect(addressOf("spacing.md#focus")).toBe("/guide/spacing#focus");
  });
  it("is searched by all words, titles first", () => {
    expect(searched("glossary")[0]?.name).toBe("glossary");
    expect(searched("back focus").map((page) => page.name)).toContain("spacing");
    expect(searched("no such words anywhere at all")).toEqual([]);
  });
});

describe("terms of the glossary", () => {
  it("are all of its page", () => {
    expect(MEANINGS.size).toBeGreaterThan(45);
    expect(MEANINGS.get("oiii")).toBe(MEANINGS.get("sii"));
  });
  it.each([
    ["Back focus 54.7 mm, back focus required.", ["Back focus"]],
    ["The subs trail: field rotation.", ["subs", "field rotation"]],
    ["No subterfuge with a dual-narrowband filter.", ["dual-narrowband filter"]],
    ["Nothing here.", []],
  ])("open where they stand first: %s", (text, met) => {
    const pieces = piecesOf(text);
    expect(pieces.filter((one) => one.meaning).map((one) => one.words)).toEqual(met);
    expect(pieces.map((one) => one.words).join("")).toBe(text);
  });
});
