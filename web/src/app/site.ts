/** One site for the Board and the Sky: where the night is looked at from, remembered until another is chosen. */
import { useSyncExternalStore } from "react";
import { ofData } from "../kept/keeping";

const KEY = "site";
const listeners = new Set<() => void>();

function choose(id: string) {
  ofData().write(KEY, id);
  for (const listener of listeners) listener();
}

export function useChosenSite(): [site: string | null, choose: (id: string) => void] {
  const site = useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => ofData().read(KEY),
  );
  return [site, choose];
}
