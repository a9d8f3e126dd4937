import { beforeEach, describe, expect, it, vi } from "vitest";

/** A browser's store, with so much room. */
function store(room = Number.POSITIVE_INFINITY) {
  const held: Record<string, string> = {};
  const own = { room };
  return {
    getItem: (key: string) => held[key] ?? null,
    setItem: (key: string, text: string) => {
      const size = Object.entries({ ...held, [key]: text }).reduce(
        (all, [k, t]) => all + k.length + t.length,
        0,
      );
      if (size > own.room) throw new DOMException("full", "QuotaExceededError");
      held[key] = text;
    },
    removeItem: (key: string) => delete held[key],
    own,
    held,
  };
}

async function fresh(kept: unknown) {
  vi.resetModules();
  const seen = kept as { held?: Record<string, string> };
  // What a browser lists of its store are the keys in it.
  const listed = new Proxy(kept as object, {
    ownKeys: () => Object.keys(seen.held ?? {}),
    getOwnPropertyDescriptor: () => ({ enumerable: true, configurable: true }),
  });
  vi.stubGlobal("localStorage", listed);
  return import("./keeping");
}

describe("what a browser keeps", () => {
  beforeEach(() => vi.unstubAllGlobals());

  it("belongs to the data it was typed on", async () => {
    const kept = store();
    const keeping = await fresh(kept);
    keeping.show("one");
    const box = keeping.ofData();
    box.write("unsaved.heron", "{}");
    keeping.show("two");
    expect(keeping.ofData().read("unsaved.heron")).toBeNull();
    box.write("marks", '["late"]'); // a box stays with its data
    expect(keeping.ofData().read("marks")).toBeNull();
    expect(
      keeping
        .leftBehind()
        .map((one) => one.name)
        .sort(),
    ).toEqual(["marks", "unsaved.heron"]);
    keeping.show("one");
    expect(keeping.ofData().read("unsaved.heron")).toBe("{}");
    expect(keeping.leftBehind()).toEqual([]);
  });

  it("knows its data before a server answers, and forgets what is let go", async () => {
    const kept = store();
    const first = await fresh(kept);
    first.show("one");
    first.ofData().write("marks", '["a"]');
    const again = await fresh(kept);
    expect(again.dataShown()).toBe("one");
    again.show("two");
    for (const one of again.leftBehind()) again.discard(one);
    expect(again.leftBehind()).toEqual([]);
  });

  it("gives what was kept before data had names to the first data that are met", async () => {
    const kept = store();
    for (const key of ["dravel.unsaved.heron", "dravel.marks", "dravel.typed-night", "dravel.theme"])
      kept.setItem(key, `"${key}"`);
    const keeping = await fresh(kept);
    keeping.show("one");
    expect(keeping.ofData().read("unsaved.heron")).toBe('"dravel.unsaved.heron"');
    expect(keeping.ofData().read("typed-night")).toBe('"dravel.typed-night"');
    expect(keeping.onDevice.read("theme")).toBe('"dravel.theme"');
    expect(kept.getItem("dravel.marks")).toBeNull();
  });

  it("holds in the page what finds no room, and keeps it when there is room again", async () => {
    const kept = store(120);
    const keeping = await fresh(kept);
    keeping.show("one");
    keeping.ofData().write("note", "x".repeat(200));
    expect(keeping.ofData().read("note")).toHaveLength(200);
    expect(kept.getItem("dravel@one.note")).toBeNull();
    kept.own.room = 1000;
    keeping.onDevice.write("theme", "red");
    expect(kept.getItem("dravel@one.note")).toHaveLength(200);
  });

  it("fails nobody where keeping is forbidden", async () => {
    const never = () => {
      throw new DOMException("no", "SecurityError");
    };
    const keeping = await fresh(new Proxy({}, { get: () => never, ownKeys: never }));
    keeping.show("one");
    keeping.ofData().write("marks", "[1]");
    expect(keeping.ofData().read("marks")).toBe("[1]");
    keeping.ofData().forget("marks");
    expect(keeping.ofData().read("marks")).toBeNull();
  });
});
