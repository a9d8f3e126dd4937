/**
 * What was marked here: kept on this device at once, delivered when the server answers, never dropped. What the server refuses is
 * set aside with its words, and holds nothing else up.
 */
import { Refused, words } from "../api/client";
import { type Box, parsed } from "./keeping";

export interface Aside<T> {
  item: T;
  because: string;
}

/** Answers after which the same thing may well go through later. */
const LATER = [401, 403, 408, 412, 425, 429];
const isFinal = (error: unknown) =>
  error instanceof Refused && error.status >= 400 && error.status < 500 && !LATER.includes(error.status);

export class Outbox<T extends { id: string }> {
  #sending = false;

  constructor(
    private readonly box: Box,
    private readonly name: string,
    private readonly changed: () => void = () => undefined,
  ) {}

  waiting(): T[] {
    return this.#list<T>(this.name);
  }

  aside(): Aside<T>[] {
    return this.#list<Aside<T>>(this.#asideName);
  }

  put(item: T) {
    this.#keep(this.name, [...this.waiting(), item]);
  }

  /** Tries again what was refused. */
  again(id: string) {
    const one = this.aside().find(({ item }) => item.id === id);
    if (!one) return;
    this.put(one.item);
    this.discard(id);
  }

  discard(id: string) {
    this.#keep(
      this.#asideName,
      this.aside().filter(({ item }) => item.id !== id),
    );
  }

  /** Sends what waits, all at once; one by one where something of it is refused. Returns what the server said that may pass,
   * and nothing where a delivery is under way. */
  async deliver(send: (items: T[]) => Promise<void>): Promise<string | null> {
    if (this.#sending) return null;
    this.#sending = true;
    try {
      for (let items = this.waiting(); items.length > 0; items = this.waiting()) {
        try {
          await send(items);
          this.#done(items);
        } catch (error) {
          if (!isFinal(error)) throw error;
          for (const one of items) await this.#single(one, send);
        }
      }
      return "";
    } catch (error) {
      return error instanceof Refused && error.status !== 0 ? words(error) : "";
    } finally {
      this.#sending = false;
    }
  }

  async #single(item: T, send: (items: T[]) => Promise<void>) {
    try {
      await send([item]);
    } catch (error) {
      if (!isFinal(error)) throw error;
      this.#keep(this.#asideName, [...this.aside(), { item, because: words(error) }]);
    }
    this.#done([item]);
  }

  #done(items: T[]) {
    const there = new Set(items.map((one) => one.id));
    this.#keep(
      this.name,
      this.waiting().filter((one) => !there.has(one.id)),
    );
  }

  get #asideName() {
    return `${this.name}.refused`;
  }

  #list<E>(name: string): E[] {
    const kept = parsed<unknown>(this.box.read(name));
    return Array.isArray(kept) ? (kept as E[]) : [];
  }

  #keep(name: string, items: unknown[]) {
    if (items.length > 0) this.box.write(name, JSON.stringify(items));
    else this.box.forget(name);
    this.changed();
  }
}
