import { useQuery } from "@tanstack/react-query";
import { api, data } from "../api/client";
import type { StepPage } from "../api/types";

/** The steps of the work, in their order, as the server has them; none while they are asked for. */
export function useSteps(): readonly StepPage[] {
  const steps = useQuery({
    queryKey: ["steps"],
    queryFn: () => data(api.GET("/api/v1/steps")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  return steps.data ?? [];
}
