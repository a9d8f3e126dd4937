/** An outbox of this page: tried again until the server has it all. */
import { useCallback, useEffect, useRef, useState } from "react";
import { ofData } from "./keeping";
import { type Aside, Outbox } from "./outbox";

const RETRY_MS = 4000;

export interface Refusals<T> {
  aside: readonly Aside<T>[];
  again: (id: string) => void;
  discard: (id: string) => void;
}

export function useOutbox<T extends { id: string }>(name: string, send: (items: T[]) => Promise<void>) {
  const [, draw] = useState(0);
  const [fault, setFault] = useState("");
  const sender = useRef(send);
  sender.current = send;
  // The page is made anew for other data; a page of a step may go on to another rig.
  const made = useRef<{ name: string; box: Outbox<T> } | null>(null);
  if (made.current?.name !== name)
    made.current = { name, box: new Outbox<T>(ofData(), name, () => draw((count) => count + 1)) };
  const { box } = made.current;
  const deliver = useCallback(async () => {
    const said = await box.deliver((items) => sender.current(items));
    if (said !== null) setFault(said);
  }, [box]);
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
      box.put(item);
      void deliver();
    },
    [box, deliver],
  );
  const refusals: Refusals<T> = {
    aside: box.aside(),
    again: (id) => {
      box.again(id);
      void deliver();
    },
    discard: (id) => box.discard(id),
  };
  return { waiting: box.waiting(), fault, put, deliver, refusals };
}
