import { describe, expect, it } from "vitest";
import { blank, fieldsOf, resolve, type Schema, words } from "./schema";

const ROOT: Schema = {
  $defs: {
    Ring: {
      properties: {
        length_mm: { type: "number", minimum: 0.5, maximum: 60, title: "Front ring length", unit: "mm" },
        fitted: { type: "boolean", default: true, title: "Front ring fitted" },
      },
      required: ["length_mm"],
    },
    Part: {
      properties: {
        kind: { const: "camera", default: "camera" },
        name: { type: "string", title: "Name" },
        mass_g: {
          anyOf: [{ type: "number", minimum: 0, maximum: 500 }, { type: "null" }],
          default: null,
          title: "Mass",
          unit: "g",
        },
        front_ring: { anyOf: [{ $ref: "#/$defs/Ring" }, { type: "null" }], default: null },
        colour: { enum: ["mono", "one_shot"], title: "Colour" },
        inner: { $ref: "#/$defs/Ring" },
        rings: { type: "array", items: { $ref: "#/$defs/Ring" }, default: [] },
      },
      required: ["name", "inner", "colour"],
    },
  },
};
const part = resolve({ $ref: "#/$defs/Part" }, ROOT);

describe("forms from a schema", () => {
  const fields = fieldsOf(part, ROOT);
  const field = (name: string) => fields.find((entry) => entry.name === name);

  it("finds unit and range behind a value that may be missing", () => {
    const mass = field("mass_g");
    expect(mass?.nullable).toBe(true);
    expect(mass?.title).toBe("Mass");
    expect(mass?.schema).toMatchObject({ type: "number", minimum: 0, maximum: 500, unit: "g" });
  });

  it("follows references", () => {
    expect(field("front_ring")?.schema.properties).toHaveProperty("length_mm");
    expect(field("front_ring")?.title).toBe("Front ring");
    expect(field("inner")?.required).toBe(true);
  });

  it("keeps choices", () => {
    expect(field("colour")?.schema.enum).toEqual(["mono", "one_shot"]);
  });

  it("starts a new part with defaults, first choices and empty numbers", () => {
    const made = blank(part, ROOT);
    expect(made).toMatchObject({ kind: "camera", mass_g: null, front_ring: null, colour: "mono", rings: [] });
    expect(made.inner).toEqual({ fitted: true });
    expect(made).not.toHaveProperty("name");
  });

  it("names fields without their unit", () => {
    expect(words("front_ring")).toBe("Front ring");
    expect(words("length_mm")).toBe("Length");
    expect(words("dark_e_per_s")).toBe("Dark e per s");
  });
});
