/** A design as it is told: rigs as they are proved, how far it is, and the answer; asked anew when the request changes. */
import { useEffect, useRef, useState } from "react";
import { asked, heard, Refused } from "../api/client";
import type { DesignAnswer, DesignPoint, Sentence } from "../api/types";
import { terms } from "../terms/begin";
import { terms as common } from "../terms/common";
import type { RigRequest } from "./request";

export interface DesignEvent {
  kind: "progress" | "rig" | "answer" | "failed";
  words: Sentence;
  done: number;
  total: number;
  point: DesignPoint | null;
  sure: boolean;
  answer: DesignAnswer | null;
}

export interface Design {
  /** Rigs of the front, the most promising first; before that what was seen so far. */
  points: readonly DesignPoint[];
  sure: boolean;
  answer: DesignAnswer | null;
  words: string;
  share: number;
  running: boolean;
  fault: string;
  /** The request that the points answer. */
  of: RigRequest;
}

const REST_MS = 350;
const SHOWN_MS = 150;

export function useDesign(request: RigRequest): Design & { stop: () => void } {
  const [design, setDesign] = useState<Design>({
    points: [],
    sure: false,
    answer: null,
    words: "",
    share: 0,
    running: true,
    fault: "",
    of: request,
  });
  const under = useRef<AbortController | null>(null);
  const text = JSON.stringify(request);
  useEffect(() => {
    const stopper = new AbortController();
    under.current = stopper;
    const timer = window.setTimeout(() => {
      setDesign({
        points: [],
        sure: false,
        answer: null,
        words: terms.asked,
        share: 0,
        running: true,
        fault: "",
        of: JSON.parse(text) as RigRequest,
      });
      void listen(text, stopper.signal, (make) => setDesign((now) => make(now)));
    }, REST_MS);
    return () => {
      window.clearTimeout(timer);
      stopper.abort();
    };
  }, [text]);
  const stop = () => {
    under.current?.abort();
    setDesign((now) => ({ ...now, running: false, words: terms.stoppedTheseStandSoFar }));
  };
  return { ...design, stop };
}

type Tell = (make: (now: Design) => Design) => void;

async function listen(body: string, signal: AbortSignal, tell: Tell) {
  const night = asked.night ? `?night=${encodeURIComponent(asked.night)}` : "";
  try {
    const answer = await fetch(`/api/v1/design/events${night}`, {
      method: "POST",
      headers: { "content-type": "application/json" },
      body,
      signal,
    });
    heard(answer);
    if (!answer.ok || !answer.body) {
      const problem = (await answer.json().catch(() => ({}))) as { detail?: string };
      throw new Refused(answer.status, problem.detail ?? common.theServerRefusedThis);
    }
    const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader();
    let held = "";
    let waiting: DesignEvent[] = [];
    let shown = 0;
    // What comes is shown a few times a second: the page stays quick while it comes.
    const show = () => {
      const events = waiting;
      waiting = [];
      shown = performance.now();
      if (events.length > 0) tell((now) => events.reduce(told, now));
    };
    for (;;) {
      const { done, value } = await reader.read();
      if (done) break;
      held += value;
      const whole = held.split("\n\n");
      held = whole.pop() ?? "";
      for (const line of whole)
        if (line.startsWith("data: ")) waiting.push(JSON.parse(line.slice(6)) as DesignEvent);
      if (performance.now() - shown > SHOWN_MS) show();
    }
    show();
    tell((now) => ({ ...now, running: false }));
  } catch (error) {
    if (signal.aborted) return;
    const fault = error instanceof Refused ? error.message : terms.dravelsServerDoesNotAnswerWhat;
    tell((now) => ({ ...now, running: false, fault }));
  }
}

export function told(now: Design, event: DesignEvent): Design {
  if (event.kind === "progress")
    return { ...now, words: event.words.text, share: event.total ? event.done / event.total : 0 };
  if (event.kind === "failed") return { ...now, fault: event.words.text };
  if (event.kind === "answer") {
    const by = new Map((now.sure ? now.points : []).map((point) => [point.row, point]));
    const points = (event.answer?.rows ?? []).flatMap((row) => by.get(row) ?? []);
    return { ...now, answer: event.answer, sure: true, share: 1, words: "", points };
  }
  if (!event.point) return now;
  const before = event.sure && !now.sure ? [] : now.points;
  return {
    ...now,
    points: [...before, event.point],
    sure: event.sure,
    words: event.words.text,
    share: event.sure ? 1 : now.share,
  };
}
