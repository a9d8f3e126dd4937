import { useEffect } from "react";

/**
 * When what was in focus goes with a change (a fix taken, a ring laid, a rider taken off), the place it stood in has the
 * focus, not the top of the page. Places carry `data-place` and can be focused.
 */
export function useFocusStays() {
  useEffect(() => {
    let node: Element | null = null;
    let places: HTMLElement[] = [];
    const onFocus = (event: FocusEvent) => {
      node = event.target as Element;
      places = [];
      for (let at = node.closest<HTMLElement>("[data-place]"); at; )
        [places, at] = [[...places, at], at.parentElement?.closest<HTMLElement>("[data-place]") ?? null];
    };
    const onChange = () => {
      if (!node || node.isConnected || document.activeElement !== document.body) return;
      node = null;
      places.find((place) => place.isConnected)?.focus({ preventScroll: true });
    };
    const watch = new MutationObserver(onChange);
    watch.observe(document.body, { childList: true, subtree: true });
    document.addEventListener("focusin", onFocus);
    return () => {
      watch.disconnect();
      document.removeEventListener("focusin", onFocus);
    };
  }, []);
}
