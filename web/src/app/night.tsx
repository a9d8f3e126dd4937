/** One night for the whole application: chosen in the top bar, kept in the address, sent with every call. */
import { useQueryClient } from "@tanstack/react-query";
import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useState } from "react";
import { useSearchParams } from "react-router";
import { asked } from "../api/client";

interface Night {
  /** The evening that was chosen; null is tonight, whenever that is. */
  night: string | null;
  choose: (night: string | null) => void;
}

const NightContext = createContext<Night>({ night: null, choose: () => {} });

export const useChosenNight = () => useContext(NightContext);

const PARAMETER = "night";

/** A day as it is written, if it is one that can be computed; else nothing. The server says so too, of every call. */
export function aDay(given: string | null): string | null {
  if (!given || !/^(19[5-9]\d|20\d\d)-\d\d-\d\d$/.test(given)) return null;
  const day = new Date(`${given}T12:00:00Z`);
  return !Number.isNaN(day.getTime()) && day.toISOString().startsWith(given) ? given : null;
}

export function NightProvider({ children }: { children: ReactNode }) {
  const client = useQueryClient();
  const [search, setSearch] = useSearchParams();
  const [night, setNight] = useState(() => {
    asked.night = aDay(search.get(PARAMETER));
    return asked.night;
  });
  const choose = useCallback(
    (next: string | null) => {
      // Before anything asks again: what is asked from now on is asked of this night.
      asked.night = next;
      setNight(next);
      void client.invalidateQueries();
    },
    [client],
  );
  // A link that leads on drops it from the address, and a page writes its own: it is put back.
  const written = search.get(PARAMETER);
  useEffect(() => {
    if (written === night) return;
    setSearch(
      (now) => {
        const next = new URLSearchParams(now);
        if (night) next.set(PARAMETER, night);
        else next.delete(PARAMETER);
        return next;
      },
      { replace: true },
    );
  }, [written, night, setSearch]);
  const value = useMemo(() => ({ night, choose }), [night, choose]);
  return <NightContext.Provider value={value}>{children}</NightContext.Provider>;
}
