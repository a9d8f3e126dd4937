import { describe, expect, it } from "vitest";
import { Refused } from "../api/client";
import type { Box } from "./keeping";
import { Outbox } from "./outbox";

interface Mark {
  id: string;
}
const marks = (...ids: string[]): Mark[] => ids.map((id) => ({ id }));

function box(): Box {
  const held = new Map<string, string>();
  return {
    read: (name) => held.get(name) ?? null,
    write: (name, text) => void held.set(name, text),
    forget: (name) => void held.delete(name),
  };
}

function filled(...ids: string[]) {
  const made = new Outbox<Mark>(box(), "marks");
  for (const one of marks(...ids)) made.put(one);
  return made;
}

/** A server that refuses some, and takes the rest or nothing. */
function server(refuses: Record<string, number>) {
  const taken: string[] = [];
  return {
    taken,
    send: async (items: Mark[]) => {
      for (const { id } of items) {
        const status = refuses[id];
        if (status !== undefined) throw new Refused(status, `no ${id}`);
      }
      taken.push(...items.map(({ id }) => id));
    },
  };
}

describe("what waits to be delivered", () => {
  it("goes all at once, in its order", async () => {
    const out = filled("a", "b", "c");
    const { taken, send } = server({});
    expect(await out.deliver(send)).toBe("");
    expect(taken).toEqual(["a", "b", "c"]);
    expect(out.waiting()).toEqual([]);
  });

  it.each([400, 404, 409, 410, 413, 422])("is not held up by one that is refused with %s", async (status) => {
    const out = filled("a", "bad", "c");
    const { taken, send } = server({ bad: status });
    await out.deliver(send);
    expect(taken).toEqual(["a", "c"]);
    expect(out.waiting()).toEqual([]);
    expect(out.aside()).toEqual([{ item: { id: "bad" }, because: "no bad" }]);
  });

  it.each([0, 401, 403, 408, 412, 425, 429, 500, 503, 507])(
    "waits where the answer is %s",
    async (status) => {
      const out = filled("a", "b");
      const { taken, send } = server({ a: status });
      await out.deliver(send);
      expect(taken).toEqual([]);
      expect(out.waiting()).toEqual(marks("a", "b"));
      expect(out.aside()).toEqual([]);
    },
  );

  it("stops where the line is lost among single ones, and goes on later", async () => {
    const out = filled("a", "bad", "c", "d");
    const refuses: Record<string, number> = { bad: 422, c: 0 };
    const { taken, send } = server(refuses);
    await out.deliver(send);
    expect(out.waiting()).toEqual(marks("c", "d"));
    delete refuses.c;
    await out.deliver(send);
    expect(taken).toEqual(["a", "c", "d"]);
    expect(out.aside()).toHaveLength(1);
  });

  it("takes a refused one up again, or lets it go", async () => {
    const out = filled("bad", "worse");
    const refuses: Record<string, number> = { bad: 409, worse: 409 };
    const { taken, send } = server(refuses);
    await out.deliver(send);
    out.discard("worse");
    delete refuses.bad;
    out.again("bad");
    await out.deliver(send);
    expect(taken).toEqual(["bad"]);
    expect(out.aside()).toEqual([]);
  });

  it("keeps what is put while a delivery is under way", async () => {
    const out = filled("a");
    const { taken, send } = server({});
    await out.deliver(async (items) => {
      if (items[0]?.id === "a") out.put({ id: "late" });
      await send(items);
    });
    expect(taken).toEqual(["a", "late"]);
    expect(out.waiting()).toEqual([]);
  });

  it("reads what it cannot read as nothing", () => {
    const held = box();
    held.write("marks", "{ broken");
    expect(new Outbox<Mark>(held, "marks").waiting()).toEqual([]);
  });
});
