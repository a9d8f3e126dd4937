import { useQuery } from "@tanstack/react-query";
import { api, data } from "../api/client";
import type { Units } from "../api/types";

export function usePreferences() {
  return useQuery({ queryKey: ["preferences"], queryFn: () => data(api.GET("/api/v1/preferences")) });
}

export function usePreferencesUnits(): Units {
  return usePreferences().data?.body.units ?? "metric";
}
