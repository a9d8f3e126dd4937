/**
 * What this browser keeps. Some of it is the device's (theme, name); what is typed, ticked and chosen belongs to the data it was
 * typed on: a restored backup, or the demo at the same address, are other data. A browser that keeps nothing, or no more, fails
 * nobody: it is kept in the page then, and said.
 */
import { useSyncExternalStore } from "react";
import { terms } from "../terms/kept";

const DEVICE = terms.dravel;
const LAST = `${DEVICE}data`;
const OF = "dravel@";
/** What belonged to data before data had names; it goes to those that are met first. */
const ONCE = /^dravel\.((unsaved|ticks|typed-night)\..+|typed-night|marks|tonight|site|wish)$/;
/** What somebody typed or ticked; the rest is choice, and is not missed. */
const TYPED = /^(unsaved|ticks|marks|typed-night)/;

export type Trouble = "full" | "forbidden";
export interface Box {
  read: (name: string) => string | null;
  write: (name: string, text: string) => void;
  forget: (name: string) => void;
}

const held = new Map<string, string>();
let trouble: Trouble | null = null;
const listeners = new Set<() => void>();
const tell = () => {
  for (const listener of listeners) listener();
};
const listen = (listener: () => void) => {
  listeners.add(listener);
  return () => void listeners.delete(listener);
};

function read(key: string): string | null {
  const here = held.get(key);
  if (here !== undefined) return here;
  try {
    return localStorage.getItem(key);
  } catch {
    return null;
  }
}

function write(key: string, text: string) {
  held.set(key, text);
  let now: Trouble | null = null;
  // What found no room before is tried again: room may have been made.
  for (const [waiting, words] of held) {
    try {
      localStorage.setItem(waiting, words);
      held.delete(waiting);
    } catch (error) {
      now = error instanceof DOMException && error.name === "QuotaExceededError" ? "full" : "forbidden";
    }
  }
  if (now === trouble) return;
  trouble = now;
  tell();
}

function forget(key: string) {
  held.delete(key);
  try {
    localStorage.removeItem(key);
  } catch {
    // It was never kept.
  }
}

function keys(): string[] {
  try {
    return [...new Set([...Object.keys(localStorage), ...held.keys()])];
  } catch {
    return [...held.keys()];
  }
}

const box = (prefix: string): Box => ({
  read: (name) => read(prefix + name),
  write: (name, text) => write(prefix + name, text),
  forget: (name) => forget(prefix + name),
});

/** What is this device's, whatever data it looks at. */
export const onDevice = box(DEVICE);

let data = read(LAST) ?? "";

/** What belongs to the data that are served now. A box stays with the data it was asked for on. */
export const ofData = (): Box => box(`${OF}${data}.`);

/** Which data this page shows; the last known ones while no server has said it. */
export const dataShown = () => data;
export const useDataShown = () => useSyncExternalStore(listen, dataShown);
/** Why what is typed outlives this page no more; nothing while it does. */
export const useTrouble = () => useSyncExternalStore(listen, () => trouble);

/** Other data are shown from here on. */
export function show(next: string) {
  const nameless = data === "" ? keys().filter((key) => ONCE.test(key) || key.startsWith(`${OF}.`)) : [];
  for (const key of nameless) {
    const text = read(key);
    const own = `${OF}${next}.${key.startsWith(OF) ? key.slice(OF.length + 1) : key.slice(DEVICE.length)}`;
    if (text !== null && read(own) === null) write(own, text);
    forget(key);
  }
  data = next;
  write(LAST, next);
  tell();
}

export interface Left {
  data: string;
  name: string;
  text: string;
}

/** What was typed here on other data and never reached them. */
export function leftBehind(): Left[] {
  return keys()
    .filter((key) => key.startsWith(OF) && !key.startsWith(`${OF}${data}.`))
    .map((key) => {
      const [of = "", ...rest] = key.slice(OF.length).split(".");
      return { data: of, name: rest.join("."), text: read(key) ?? "" };
    })
    .filter(({ name, text }) => TYPED.test(name) && text !== "" && text !== "[]" && text !== "null");
}

export const discard = (left: Left) => forget(`${OF}${left.data}.${left.name}`);

/** An object that was kept as text; nothing where none was, or it can no longer be read. */
export function parsed<T>(text: string | null): T | null {
  try {
    return text === null ? null : (JSON.parse(text) as T);
  } catch {
    return null;
  }
}
