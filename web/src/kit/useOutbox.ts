/** What was marked here: kept on this device at once, delivered when the server answers, never dropped. */
import { useCallback, useEffect, useRef, useState } from "react";
import { Refused, words } from "../api/client";

const RETRY_MS = 4000;

export function useOutbox<T extends { id: string }>(key: string, send: (items: T[]) => Promise<void>) {
  const [waiting, setWaiting] = useState(() => read<T>(key));
  const [fault, setFault] = useState("");
  const sending = useRef(false);
  const sender = useRef(send);
  sender.current = send;
  const keep = useCallback(
    (items: T[]) => {
      localStorage.setItem(key, JSON.stringify(items));
      setWaiting(items);
    },
    [key],
  );
  const deliver = useCallback(async () => {
    const items = read<T>(key);
    if (items.length === 0 || sending.current) return;
    sending.current = true;
    try {
      await sender.current(items);
      const there = new Set(items.map((one) => one.id));
      keep(read<T>(key).filter((one) => !there.has(one.id)));
      setFault("");
    } catch (error) {
      // A lost connection is waited out; what the server refuses is said, and kept all the same.
      setFault(error instanceof Refused && error.status !== 0 ? words(error) : "");
    } finally {
      sending.current = false;
    }
  }, [keep, key]);
  useEffect(() => {
    const again = window.setInterval(() => void deliver(), RETRY_MS);
    const online = () => void deliver();
    window.addEventListener("online", online);
    void deliver();
    return () => {
      window.clearInterval(again);
      window.removeEventListener("online", online);
    };
  }, [deliver]);
  const put = useCallback(
    (item: T) => {
      keep([...read<T>(key), item]);
      void deliver();
    },
    [deliver, keep, key],
  );
  return { waiting, fault, put, deliver };
}

function read<T>(key: string): T[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(key) ?? "[]");
    return Array.isArray(kept) ? (kept as T[]) : [];
  } catch {
    return [];
  }
}
