/** A session in hand: what was typed of it is kept here until the server has it, and never put over what it did not see. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { api, data, Refused } from "../api/client";
import type { SessionShown } from "../api/types";
import { ofData, parsed } from "../kept/keeping";
import { terms } from "../terms/log";
import {
  begun,
  type Change,
  type Clash,
  changed,
  chosen,
  type Draft,
  type Field,
  isChanged,
  over,
  takenUp,
  typed,
} from "./draft";

const TO_CHOOSE = terms.notSavedTheSameFieldWas;

export function useChange(session: SessionShown, kept: () => Promise<unknown>) {
  const client = useQueryClient();
  const [box] = useState(ofData);
  const key = `typed-night.${session.id}`;
  const path = { params: { path: { session_id: session.id } } };
  const [change, setChange] = useState<Change>(() => {
    const left = parsed<Partial<Change>>(box.read(key));
    return left ? over(takenUp(left), typed(session.record), session.version) : begun(session);
  });
  const latest = useRef(change);
  const hold = (next: Change) => {
    latest.current = next;
    setChange(next);
    if (isChanged(next)) box.write(key, JSON.stringify(next));
    else box.forget(key);
    return next;
  };
  // What came in elsewhere while this is open is taken up, and what clashes with it is asked.
  // biome-ignore lint/correctness/useExhaustiveDependencies: only when another version came
  useEffect(() => {
    if (session.version > latest.current.version)
      hold(over(latest.current, typed(session.record), session.version));
  }, [session.version]);

  /** Keeps some fields, or all. */
  async function keep(fields?: readonly Field[]) {
    let now = session.version < latest.current.version ? await fresh() : session;
    for (;;) {
      let mine = latest.current;
      if (now.version !== mine.version) mine = hold(over(mine, typed(now.record), now.version));
      if (mine.clashes.some((one) => !fields || fields.includes(one.field)))
        throw new Refused(409, TO_CHOOSE);
      const draft = fields ? { ...mine.was, ...picked(mine.draft, fields) } : mine.draft;
      try {
        const body = { base: now.version, record: changed(now.record, draft) as never };
        const made = await data(api.PUT("/api/v1/sessions/{session_id}", { ...path, body }));
        // What was typed while it was saved is a change of what was sent.
        hold(over({ ...latest.current, was: draft }, typed(made.record), made.version));
        client.setQueryData(["sessions", session.id], made);
        await kept();
        return made;
      } catch (error) {
        if (!(error instanceof Refused && error.status === 409)) throw error;
        now = await fresh();
      }
    }
  }
  const fresh = () => data(api.GET("/api/v1/sessions/{session_id}", path));
  const saving = useMutation({ mutationFn: keep });
  return {
    change,
    draft: change.draft,
    saving,
    set: (part: Partial<Draft>) => hold({ ...latest.current, draft: { ...latest.current.draft, ...part } }),
    hold: (draft: Draft) => hold({ ...latest.current, draft }),
    choose: (clash: Clash, mine: boolean) => hold(chosen(latest.current, clash, mine)),
    drop: () => hold({ ...latest.current, draft: latest.current.was, clashes: [] }),
  };
}

export type SessionInHand = ReturnType<typeof useChange>;

const picked = (draft: Draft, fields: readonly Field[]) =>
  Object.fromEntries(fields.map((field) => [field, draft[field]]));
