/** One site for the Board and the Sky: where the night is looked at from, remembered until another is chosen. */
import { useSyncExternalStore } from "react";

const KEY = "dravel.site";
const listeners = new Set<() => void>();

function choose(id: string) {
  localStorage.setItem(KEY, id);
  for (const listener of listeners) listener();
}

export function useChosenSite(): [site: string | null, choose: (id: string) => void] {
  const site = useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => localStorage.getItem(KEY),
  );
  return [site, choose];
}
