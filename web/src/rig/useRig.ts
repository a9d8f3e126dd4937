/** A rig being worked on: what is saved, what is drawn, and the queue of saves between them. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { applyPatch, compare, deepClone, type Operation } from "fast-json-patch";
import { useCallback, useEffect, useRef, useState } from "react";
import { api, data, Refused, words } from "../api/client";
import type { Rig, RigKept } from "../api/types";
import { useSaveQueue } from "../api/useSaveQueue";
import { ofData, parsed } from "../kept/keeping";
import { phrase } from "../terms/phrase";
import { terms } from "../terms/rig";

export type SaveState =
  | { is: "saved"; after?: "undone" | "redone" }
  | { is: "saving" }
  | { is: "stale"; current: number; fields: string[] }
  | { is: "unsaved"; because: string }
  | { is: "refused"; because: string };

/** A change that is not saved, and the revision it was made on. */
interface Pending {
  base: number;
  rig: Rig;
}

/** Something worth saying that asks for no answer; `back` is a draft that can be brought back. */
interface Told {
  words: string;
  back?: Pending;
}

const RETRY_MS = 3_000;
const keyOf = (id: string) => `unsaved.${id}`;

const newer = (one: RigKept | null, other: RigKept | null) =>
  !one || (other && other.revision > one.revision) ? other : one;

/** A draft made on `sent` while `sent` came back as `kept`; null where places in a list no longer match. */
function carriedOver(sent: Rig, draft: Rig, kept: Rig): Rig | null {
  const change = compare(sent, draft);
  for (const { path } of change) {
    const field = path.split("/")[1] as keyof Rig;
    const [before, now] = [sent[field], kept[field]];
    if (Array.isArray(before) && Array.isArray(now) && before.length !== now.length) return null;
  }
  return applyPatch(deepClone(kept) as Rig, change).newDocument;
}

export function useRig(id: string) {
  const client = useQueryClient();
  const query = useQuery({
    queryKey: ["rig", id],
    queryFn: () => data(api.GET("/api/v1/rigs/{rig_id}", { params: { path: { rig_id: id } } })),
    refetchOnWindowFocus: false,
  });
  const [box] = useState(ofData);
  const [draft, setDraft] = useState<Rig | null>(null);
  const [state, setState] = useState<SaveState>({ is: "saved" });
  const [told, setTold] = useState<Told | null>(null);
  const head = useRef<RigKept | null>(null);
  // The revision the draft was made on: what others save meanwhile does not move it.
  const base = useRef(0);
  const saves = useSaveQueue();
  // How the newest revision came about, to be told once.
  const after = useRef<"undone" | "redone" | undefined>(undefined);
  const unsaved = useRef<Rig | null>(null);
  // Counts the changes from elsewhere that came in: drafts waiting from before one are carried over it.
  const merges = useRef(0);
  if (query.data) head.current = newer(head.current, query.data);
  if (unsaved.current === null && head.current) base.current = head.current.revision;
  const rig = draft ?? head.current?.rig ?? null;
  const rigRef = useRef<Rig | null>(null);
  rigRef.current = unsaved.current ?? rig;

  const hold = useCallback(
    (next: Rig | null) => {
      unsaved.current = next;
      rigRef.current = next ?? head.current?.rig ?? null;
      setDraft(next);
      if (next) box.write(keyOf(id), JSON.stringify({ base: base.current, rig: next }));
      else box.forget(keyOf(id));
    },
    [box, id],
  );

  const keep = useCallback(
    (kept: RigKept) => {
      head.current = kept;
      base.current = kept.revision;
      // What is drawn beyond it is now made on this revision.
      if (unsaved.current) hold(unsaved.current);
      client.setQueryData(["rig", id], kept);
      client.invalidateQueries({ queryKey: ["board"] });
      client.invalidateQueries({ queryKey: ["earlier", id] });
    },
    [client, hold, id],
  );

  const fail = useCallback((error: unknown) => {
    if (error instanceof Refused && error.status === 409)
      setState({
        is: "stale",
        current: error.current ?? 0,
        fields: error.faults.map((fault) => fault.field),
      });
    else if (error instanceof Refused && error.status >= 400 && error.status < 500)
      setState({ is: "refused", because: error.message });
    else setState({ is: "unsaved", because: words(error) });
  }, []);

  /** Runs one piece of work after those before it; the draft stands until the last has answered. */
  const enqueue = useCallback(
    (work: () => Promise<void>) => {
      setState({ is: "saving" });
      return saves.add(work, (fault, left) => {
        if (fault !== null) {
          if (unsaved.current) hold(unsaved.current);
          fail(fault);
        } else if (left === 0) {
          hold(null);
          setState({ is: "saved", after: after.current });
          after.current = undefined;
        }
      });
    },
    [fail, hold, saves],
  );

  const save = useCallback(
    (next: Rig, note: string, onTop = false) => {
      // Kept here until the server has acknowledged it: a lost connection loses nothing.
      hold(next);
      const made = merges.current;
      return enqueue(async () => {
        if (made !== merges.current) return;
        const kept = await data(
          api.PUT("/api/v1/rigs/{rig_id}", {
            params: { path: { rig_id: id } },
            body: { rig: next, base: base.current, note, on_top: onTop },
          }),
        );
        if (!kept.merged?.length) return keep(kept);
        setTold({
          words: phrase(terms.changedElsewhereMeanwhileAndKeptWith, { merged: kept.merged.join("; ") }),
        });
        const later = unsaved.current;
        if (!later || later === next) return keep(kept);
        // The hand went on while this was saved: what it did since goes over the two changes together.
        const both = carriedOver(next, later, kept.rig);
        if (!both)
          throw new Refused(
            409,
            "",
            [{ field: kept.merged.join("; "), reason: "", accepted: "" }],
            kept.revision,
          );
        merges.current += 1;
        keep(kept);
        void save(both, note);
      });
    },
    [enqueue, hold, keep, id],
  );

  const commit = useCallback(
    (change: Partial<Rig> | ((rig: Rig) => Rig), note: string) => {
      const now = rigRef.current;
      if (!now) return;
      setTold(null);
      void save(typeof change === "function" ? change(now) : { ...now, ...change }, note);
    },
    [save],
  );

  const patch = useCallback(
    (change: { op: string; path: string; value?: unknown }[], note: string) =>
      commit((now) => applyPatch(deepClone(now) as Rig, change as Operation[]).newDocument, note),
    [commit],
  );

  const step = useCallback(
    async (path: "/api/v1/rigs/{rig_id}/undo" | "/api/v1/rigs/{rig_id}/redo") => {
      // Saves under way come first; whether one of them failed is known only then.
      await saves.rest();
      const lost = unsaved.current;
      if (lost) {
        const back = { base: base.current, rig: lost };
        hold(null);
        setState({ is: "saved" });
        setTold({ words: terms.theChangeThatWasNotSaved, back });
        void query.refetch();
        return;
      }
      setTold(null);
      await enqueue(async () => {
        const body = { base: base.current };
        try {
          const kept = await data(api.POST(path, { params: { path: { rig_id: id } }, body }));
          keep(kept);
          after.current = path.endsWith("undo") ? "undone" : "redone";
          if (kept.behind?.length) {
            const names = kept.behind.join("; ");
            setTold({ words: phrase(terms.asTheyStoodInThisRevision, { names }) });
          }
        } catch (error) {
          if (!(error instanceof Refused) || error.status !== 409) throw error;
          await query.refetch();
          setTold({ words: terms.changedElsewhereMeanwhileThisIsWhat });
        }
      });
    },
    [enqueue, hold, keep, id, query, saves],
  );
  const undo = useCallback(() => step("/api/v1/rigs/{rig_id}/undo"), [step]);
  const redo = useCallback(() => step("/api/v1/rigs/{rig_id}/redo"), [step]);

  /** Takes up a draft again, on the revision it was made on. */
  const bringBack = useCallback(
    ({ base: made, rig: given }: Pending, note: string) => {
      base.current = made;
      unsaved.current = given;
      setTold(null);
      return save(given, note);
    },
    [save],
  );

  // A change that a closed page left behind is saved now, or asked about.
  const opened = useRef(false);
  useEffect(() => {
    if (opened.current || !query.data) return;
    opened.current = true;
    const left = parsed<Pending>(box.read(keyOf(id)));
    if (left) void bringBack(left, terms.keptChangeBroughtBack);
  }, [box, id, query.data, bringBack]);

  // No server: the newest draft is tried again until it answers.
  const lost = state.is === "unsaved";
  useEffect(() => {
    if (!lost) return;
    const again = () => {
      if (saves.busy()) return;
      if (unsaved.current) void save(unsaved.current, terms.savedWhenTheServerAnsweredAgain);
      else void query.refetch().then((answer) => answer.isSuccess && setState({ is: "saved" }));
    };
    const timer = window.setInterval(again, RETRY_MS);
    window.addEventListener("online", again);
    return () => {
      window.clearInterval(timer);
      window.removeEventListener("online", again);
    };
  }, [lost, save, saves, query]);

  const takeTheirs = useCallback(async () => {
    hold(null);
    await query.refetch();
    setState({ is: "saved" });
  }, [hold, query]);

  const mineOnTop = useCallback(async () => {
    // On the revision it was made on: what another changed beside it stays.
    const mine = unsaved.current;
    if (mine) await save(mine, terms.savedOverAChangeMadeElsewhere, true);
  }, [save]);

  const mineAsCopy = useCallback(async (): Promise<string | null> => {
    const mine = rigRef.current;
    if (!mine) return null;
    const made = await data(
      api.POST("/api/v1/rigs", {
        body: { rig: { ...mine, name: phrase(terms.mineCopy, { mine: mine.name }) } },
      }),
    );
    void client.invalidateQueries({ queryKey: ["board"] });
    await takeTheirs();
    return made.id;
  }, [takeTheirs, client]);

  return {
    kept: head.current,
    error: head.current ? null : query.error,
    rig,
    state,
    told,
    hush: () => setTold(null),
    bringBack,
    commit,
    patch,
    undo,
    redo,
    takeTheirs,
    mineOnTop,
    mineAsCopy,
    canUndo: (head.current?.can_undo ?? false) || draft !== null,
    canRedo: (head.current?.can_redo ?? false) && draft === null,
  };
}

export type RigInHand = ReturnType<typeof useRig>;
