/** Every key of the application in one place: what is bound here works, and is what the list of keys shows. */
import { useEffect, useRef, useSyncExternalStore } from "react";

export interface Key {
  /** As the event names it: "f", "?", "1"; with "Control+" or "Control+Shift+" before it. */
  key: string;
  does: string;
  run: () => void;
}
/** A key of something that has to be in focus: told, and heard where it belongs. */
export type Told = readonly [keys: string, does: string];

interface Set {
  title: string;
  keys: readonly Key[];
  told: readonly Told[];
}

const NONE: readonly Told[] = [];
let sets: readonly Set[] = [];
const listeners = new globalThis.Set<() => void>();
function change(next: readonly Set[]) {
  sets = next;
  for (const listener of listeners) listener();
}

const spoken = (event: KeyboardEvent) => {
  const letter = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  const control = event.ctrlKey || event.metaKey;
  return `${control ? "Control+" : ""}${control && event.shiftKey ? "Shift+" : ""}${event.altKey ? "Alt+" : ""}${letter}`;
};

/** The one listener: not while somebody types or a dialog is open, and not a key that what is in focus took. */
function hear(event: KeyboardEvent) {
  if (event.defaultPrevented) return;
  if (event.target instanceof HTMLElement && event.target.closest("input, textarea, select, [role=dialog]"))
    return;
  const wanted = spoken(event);
  for (const set of [...sets].reverse()) {
    const found = set.keys.find((one) => one.key === wanted);
    if (!found) continue;
    event.preventDefault();
    found.run();
    return;
  }
}
if (typeof window !== "undefined") window.addEventListener("keydown", hear);

/** Binds keys for as long as a view is open. What is bound later comes first. */
export function useKeys(title: string, keys: readonly Key[], told: readonly Told[] = NONE) {
  const newest = useRef(keys);
  newest.current = keys;
  const names = keys.map(({ key, does }) => `${key}\t${does}`).join("\n");
  // biome-ignore lint/correctness/useExhaustiveDependencies: bound anew when what is listed changes, not at every drawing
  useEffect(() => {
    const bound = newest.current.map((one) => ({
      ...one,
      run: () => newest.current.find(({ key }) => key === one.key)?.run(),
    }));
    const mine = { title, keys: bound, told };
    change([...sets, mine]);
    return () => change(sets.filter((set) => set !== mine));
  }, [title, names, told]);
}

/** All that is bound now, by view, as people read it. */
export function useAllKeys(): { title: string; rows: readonly Told[] }[] {
  const now = useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => sets,
  );
  return now.map(({ title, keys, told }) => ({
    title,
    rows: [...keys.map(({ key, does }): Told => [shown(key), does]), ...told],
  }));
}

const shown = (key: string) => key.replace("Control+", "Ctrl ").replace("Shift+", "Shift ");
