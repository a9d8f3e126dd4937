import { useEffect, useRef } from "react";

/** The browser asks before it leaves the page while a save is under way. */
export function useStayWhile(busy: () => boolean) {
  const ask = useRef(busy);
  ask.current = busy;
  useEffect(() => {
    const onLeave = (event: BeforeUnloadEvent) => {
      if (ask.current()) event.preventDefault();
    };
    window.addEventListener("beforeunload", onLeave);
    return () => window.removeEventListener("beforeunload", onLeave);
  }, []);
}
