import { useRef } from "react";

/**
 * Whether the server's drawing has all that was kept. Until it does, the next press of a key goes on from what was kept:
 * a drawing that lags would make two presses one.
 */
export function useShown() {
  const flying = useRef(0);
  const awaited = useRef(false);
  const behind = useRef(false);
  return useRef({
    /** A change is being kept. */
    keeping: () => {
      flying.current += 1;
      awaited.current = behind.current = true;
    },
    /** It is kept, or has failed and will never be drawn. */
    kept: (failed: boolean) => {
      flying.current -= 1;
      if (failed && flying.current === 0) awaited.current = behind.current = false;
    },
    /** The rig in hand is another. */
    rig: () => {
      if (flying.current === 0) awaited.current = false;
    },
    /** The rig in hand is drawn as it is. */
    drawn: () => {
      if (!awaited.current) behind.current = false;
    },
    shown: () => !behind.current,
  }).current;
}
