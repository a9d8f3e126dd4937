import { useQuery } from "@tanstack/react-query";
import { api, data } from "../api/client";
import type { Units } from "../api/types";

export function usePractice() {
  return useQuery({ queryKey: ["practice"], queryFn: () => data(api.GET("/api/v1/practice")) });
}

export function usePracticeUnits(): Units {
  return usePractice().data?.body.units ?? "metric";
}
