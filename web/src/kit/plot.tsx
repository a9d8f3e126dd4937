/**
 * The one surface of all pictures that hands work on: a pointer in the picture's own units, arrow keys, a save when the
 * hand rests, and one line that says what is under the pointer or in focus.
 */
import {
  type FocusEvent,
  type KeyboardEvent,
  type MouseEvent,
  type PointerEvent,
  type ReactNode,
  type RefObject,
  useCallback,
  useEffect,
  useRef,
  useState,
} from "react";
import { inPicture } from "./pointer";
import "./plot.module.css";

const REST_MS = 450;
/** On the screen: a hand that moves less has pressed, not dragged. */
const STILL_PX = 3;

export interface At {
  x: number;
  y: number;
}

/** What is held, and what a move of the hand makes of it: from where it was taken to where it is, in the picture's units. */
export interface Grip<C> {
  note: string;
  change: (from: At, to: At, free: boolean) => C;
  /** Pictures that follow nothing but the hand leave a click that did not move alone. */
  still?: boolean;
}

interface Wanted<C> {
  /** Shows a change that is not kept yet. */
  preview: (change: C) => void;
  /** Keeps it. */
  settle: (change: C, note: string) => void;
  /** The hand let go without wanting it: a cancelled touch, or Escape. */
  giveUp?: () => void;
  /** Whether the picture shows all that was kept; where it is not said, it does at once. */
  shown?: () => boolean;
}

interface Held<C> {
  grip: Grip<C>;
  from: At;
  to: At;
}

export interface Hand<C> {
  svg: RefObject<SVGSVGElement | null>;
  held: Held<C> | null;
  /** Where a pointer is, in the picture's own units. */
  at: (event: { clientX: number; clientY: number }) => At | null;
  take: (grip: Grip<C>) => (event: PointerEvent) => void;
  /** A change by keys or wheel: shown at once, kept when the hand rests, so that a row of presses is one revision. */
  nudge: (change: C, note: string) => void;
  /** What keys have changed and is not kept, or kept and not drawn yet. */
  pending: () => C | undefined;
  flush: () => void;
  surface: {
    onPointerMove: (event: PointerEvent) => void;
    onPointerUp: (event: PointerEvent) => void;
    onPointerCancel: () => void;
    onBlur: () => void;
    onClickCapture: (event: MouseEvent) => void;
  };
}

/** One hand on one picture. Two changes by keys that follow one another are laid over each other, the later one above. */
export function useHand<C extends object>(wanted: Wanted<C>): Hand<C> {
  const svg = useRef<SVGSVGElement>(null);
  const [held, setHeld] = useState<Held<C> | null>(null);
  const now = useRef(held);
  now.current = held;
  const dragged = useRef(false);
  const pressed = useRef<At>({ x: 0, y: 0 });
  const call = useRef(wanted);
  call.current = wanted;
  const waiting = useRef<{ change: C; note: string; timer: number } | null>(null);
  // What was kept last: the next key goes on from it while the picture still shows what was before.
  const kept = useRef<C | undefined>(undefined);
  const ahead = () => (call.current.shown?.() === false ? kept.current : undefined);

  const flush = useCallback(() => {
    const last = waiting.current;
    if (!last) return;
    window.clearTimeout(last.timer);
    waiting.current = null;
    kept.current = { ...(call.current.shown?.() === false && kept.current), ...last.change };
    call.current.settle(last.change, last.note);
  }, []);
  // What keys have moved is kept when the picture is left, too.
  useEffect(() => flush, [flush]);

  const letGo = useCallback(() => {
    if (!now.current) return;
    now.current = null;
    setHeld(null);
    call.current.giveUp?.();
  }, []);
  useEffect(() => {
    const onKey = (event: globalThis.KeyboardEvent) => event.key === "Escape" && letGo();
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [letGo]);

  const at = useCallback((event: { clientX: number; clientY: number }) => inPicture(svg.current, event), []);
  const take = (grip: Grip<C>) => (event: PointerEvent) => {
    const from = at(event);
    if (event.button !== 0 || !from) return;
    event.preventDefault();
    event.stopPropagation();
    flush();
    kept.current = undefined;
    dragged.current = false;
    pressed.current = { x: event.clientX, y: event.clientY };
    // A pressed handle is the one that keys move next.
    (event.currentTarget as SVGElement).focus({ preventScroll: true });
    setHeld({ grip, from, to: from });
  };
  const to = (event: PointerEvent): Held<C> | null => {
    const where = at(event);
    return held && where && { ...held, to: where };
  };
  return {
    svg,
    held,
    at,
    take,
    flush,
    pending: () => {
      const before = ahead();
      return waiting.current || before ? ({ ...before, ...waiting.current?.change } as C) : undefined;
    },
    nudge: (change, note) => {
      if (waiting.current) window.clearTimeout(waiting.current.timer);
      const whole = { ...waiting.current?.change, ...change };
      waiting.current = { change: whole, note, timer: window.setTimeout(flush, REST_MS) };
      call.current.preview(whole);
    },
    surface: {
      onPointerMove: (event) => {
        const next = to(event);
        const { x, y } = pressed.current;
        const still = Math.hypot(event.clientX - x, event.clientY - y) < STILL_PX;
        if (!next || (still && !dragged.current)) return;
        // Only now: a press that does not move is a click on what was pressed.
        if (!dragged.current) svg.current?.setPointerCapture(event.pointerId);
        dragged.current = true;
        setHeld(next);
        call.current.preview(next.grip.change(next.from, next.to, event.shiftKey));
      },
      onPointerUp: (event) => {
        const last = to(event);
        if (!last) return;
        setHeld(null);
        if (dragged.current || last.grip.still)
          call.current.settle(last.grip.change(last.from, last.to, event.shiftKey), last.grip.note);
        else call.current.giveUp?.();
      },
      onPointerCancel: letGo,
      onBlur: flush,
      // What ends a drag is no click.
      onClickCapture: (event) => {
        if (dragged.current) event.stopPropagation();
        dragged.current = false;
      },
    },
  };
}

/** The way an arrow key points as the picture is drawn, y upwards, ten steps with Shift; null for other keys. */
export function arrow(event: KeyboardEvent): At | null {
  if (event.ctrlKey || event.metaKey || event.altKey) return null;
  const by = event.shiftKey ? 10 : 1;
  const ways: Record<string, At> = {
    ArrowLeft: { x: -by, y: 0 },
    ArrowRight: { x: by, y: 0 },
    ArrowUp: { x: 0, y: by },
    ArrowDown: { x: 0, y: -by },
  };
  return ways[event.key] ?? null;
}

/** For what is pressed like a button in a picture: a click, Enter or the space bar. */
export function press(act: () => void, pressed?: boolean) {
  return {
    role: "button",
    tabIndex: 0,
    "aria-pressed": pressed,
    onClick: act,
    onKeyDown: (event: KeyboardEvent) => {
      if (event.key !== "Enter" && event.key !== " ") return;
      event.preventDefault();
      act();
    },
  } as const;
}

/** What a handle tells: its name, where it stands and between what, in words for eyes and ears alike. */
export const slider = (
  label: string,
  now: number,
  [low, high]: readonly [number, number],
  text: string,
  by: { onPointerDown?: (event: PointerEvent) => void; onKeyDown?: (event: KeyboardEvent) => void } = {},
) =>
  ({
    role: "slider",
    tabIndex: 0,
    "aria-label": label,
    "aria-valuenow": now,
    "aria-valuemin": low,
    "aria-valuemax": high,
    "aria-valuetext": text,
    "data-says": `${label}: ${text}`,
    ...by,
  }) as const;

interface PlotProps<C> {
  hand?: Hand<C>;
  width: number;
  height: number;
  label: string;
  name?: string;
  className?: string;
  /** What the line under the picture says while nothing is pointed at; none, and there is no line. */
  rest?: ReactNode;
  children: ReactNode;
  svg?: Record<string, unknown>;
}

/** The picture: its own units as its view box, and the line that says what is shown. */
export function Plot<C>({
  hand,
  width,
  height,
  label,
  name,
  className = "",
  rest,
  children,
  svg,
}: PlotProps<C>) {
  const [said, setSaid] = useState("");
  const hear = (event: PointerEvent | FocusEvent) => {
    const one = event.target instanceof Element ? event.target.closest("[data-says]") : null;
    setSaid(one?.getAttribute("data-says") ?? "");
  };
  return (
    <>
      <svg
        ref={hand?.svg}
        data-testid={name}
        className={`plot ${className} ${hand?.held ? "dragging" : ""}`}
        viewBox={`0 0 ${width} ${height}`}
        role="group"
        aria-label={label}
        {...hand?.surface}
        onPointerOver={hear}
        onPointerLeave={() => setSaid("")}
        onFocus={hear}
        {...svg}
      >
        {children}
      </svg>
      {rest !== undefined && (
        <p data-testid="plot-says" className="plot-says quiet" data-given={said ? true : undefined}>
          {said || rest}
        </p>
      )}
    </>
  );
}
