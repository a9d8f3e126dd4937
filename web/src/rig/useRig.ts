/** A rig being worked on: what is saved, what is drawn, and the queue of saves between them. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { applyPatch, deepClone, type Operation } from "fast-json-patch";
import { useCallback, useRef, useState } from "react";
import { api, data, Refused, words } from "../api/client";
import type { Rig, RigKept } from "../api/types";
import { useStayWhile } from "../api/useStayWhile";

export type SaveState =
  | { is: "saved" }
  | { is: "saving" }
  | { is: "stale"; current: number }
  | { is: "unsaved"; because: string }
  | { is: "refused"; because: string };

interface Pending {
  base: number;
  rig: Rig;
}

const keyOf = (id: string) => `dravel.unsaved.${id}`;

function readPending(id: string): Pending | null {
  try {
    return JSON.parse(localStorage.getItem(keyOf(id)) ?? "null") as Pending | null;
  } catch {
    return null;
  }
}

export function useRig(id: string) {
  const client = useQueryClient();
  const query = useQuery({
    queryKey: ["rig", id],
    queryFn: () => data(api.GET("/api/v1/rigs/{rig_id}", { params: { path: { rig_id: id } } })),
    refetchOnWindowFocus: false,
  });
  const [draft, setDraft] = useState<Rig | null>(null);
  const [state, setState] = useState<SaveState>({ is: "saved" });
  const [leftover, setLeftover] = useState<Pending | null>(() => readPending(id));
  const head = useRef<RigKept | null>(null);
  const queue = useRef<Promise<void>>(Promise.resolve());
  const waiting = useRef(0);
  if (
    query.data &&
    (!head.current || head.current.id !== id || query.data.revision > head.current.revision)
  ) {
    head.current = query.data;
  }

  const keep = useCallback(
    (kept: RigKept) => {
      head.current = kept;
      client.setQueryData(["rig", id], kept);
      client.invalidateQueries({ queryKey: ["board"] });
      client.invalidateQueries({ queryKey: ["earlier", id] });
    },
    [client, id],
  );

  const fail = useCallback((error: unknown) => {
    if (error instanceof Refused && error.status === 409)
      setState({ is: "stale", current: error.current ?? 0 });
    else if (error instanceof Refused && error.status !== 0)
      setState({ is: "refused", because: error.message });
    else setState({ is: "unsaved", because: words(error) });
  }, []);

  /** Runs one server call after the ones before it; the draft stands until the last has answered. */
  const enqueue = useCallback(
    (call: (base: number) => Promise<RigKept>) => {
      waiting.current += 1;
      setState({ is: "saving" });
      queue.current = queue.current.then(async () => {
        try {
          keep(await call(head.current?.revision ?? 0));
          waiting.current -= 1;
          if (waiting.current === 0) {
            localStorage.removeItem(keyOf(id));
            setLeftover(null);
            setDraft(null);
            setState({ is: "saved" });
          }
        } catch (error) {
          waiting.current -= 1;
          fail(error);
        }
      });
      return queue.current;
    },
    [keep, fail, id],
  );

  const save = useCallback(
    (rig: Rig, note: string) => {
      setDraft(rig);
      // Kept here until the server has acknowledged it: a lost connection loses nothing.
      localStorage.setItem(keyOf(id), JSON.stringify({ base: head.current?.revision ?? 0, rig }));
      return enqueue((base) =>
        data(
          api.PUT("/api/v1/rigs/{rig_id}", { params: { path: { rig_id: id } }, body: { rig, base, note } }),
        ),
      );
    },
    [enqueue, id],
  );

  const rig = draft ?? query.data?.rig ?? null;
  const rigRef = useRef<Rig | null>(null);
  rigRef.current = rig;

  const commit = useCallback(
    (change: Partial<Rig> | ((rig: Rig) => Rig), note: string) => {
      const now = rigRef.current;
      if (!now) return;
      const next = typeof change === "function" ? change(now) : { ...now, ...change };
      rigRef.current = next;
      void save(next, note);
    },
    [save],
  );

  const patch = useCallback(
    (change: { op: string; path: string; value?: unknown }[], note: string) =>
      commit((now) => applyPatch(deepClone(now) as Rig, change as Operation[]).newDocument, note),
    [commit],
  );

  const step = useCallback(
    (path: "/api/v1/rigs/{rig_id}/undo" | "/api/v1/rigs/{rig_id}/redo") =>
      enqueue((base) => data(api.POST(path, { params: { path: { rig_id: id } }, body: { base } }))),
    [enqueue, id],
  );
  const undo = useCallback(() => step("/api/v1/rigs/{rig_id}/undo"), [step]);
  const redo = useCallback(() => step("/api/v1/rigs/{rig_id}/redo"), [step]);

  const takeTheirs = useCallback(async () => {
    localStorage.removeItem(keyOf(id));
    setLeftover(null);
    head.current = null;
    await query.refetch();
    setDraft(null);
    setState({ is: "saved" });
  }, [id, query]);

  const mineOnTop = useCallback(async () => {
    const mine = rigRef.current;
    head.current = (await query.refetch()).data ?? head.current;
    if (mine) await save(mine, "saved over a change made elsewhere");
  }, [query, save]);

  const mineAsCopy = useCallback(async (): Promise<string | null> => {
    const mine = rigRef.current;
    if (!mine) return null;
    const made = await data(
      api.POST("/api/v1/rigs", { body: { rig: { ...mine, name: `${mine.name}, copy` } } }),
    );
    void client.invalidateQueries({ queryKey: ["board"] });
    await takeTheirs();
    return made.id;
  }, [takeTheirs, client]);

  useStayWhile(() => waiting.current > 0);

  return {
    kept: query.data ?? null,
    error: query.error,
    rig,
    state,
    leftover: draft === null && state.is === "saved" ? leftover : null,
    dropLeftover: () => {
      localStorage.removeItem(keyOf(id));
      setLeftover(null);
    },
    commit,
    patch,
    undo,
    redo,
    takeTheirs,
    mineOnTop,
    mineAsCopy,
    canUndo: (query.data?.can_undo ?? false) || draft !== null,
    canRedo: query.data?.can_redo ?? false,
  };
}

export type RigInHand = ReturnType<typeof useRig>;
