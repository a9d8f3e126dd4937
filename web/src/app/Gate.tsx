/** From another machine the passcode is asked for first; what lies behind is not even loaded before. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { lazy, type ReactNode, Suspense } from "react";
import { api, data } from "../api/client";
import { dataShown } from "../kept/keeping";
import { terms as common } from "../terms/common";
import "./gate.module.css";

const Passcode = lazy(() => import("./Passcode"));

const KEY = ["access"];

/** Whether the passcode is needed here, and the way out again. */
export function useAccess() {
  const client = useQueryClient();
  const state = useQuery({
    queryKey: KEY,
    queryFn: () => data(api.GET("/api/v1/access")),
    staleTime: 60_000,
    refetchInterval: 60_000,
  });
  return {
    state: state.data,
    pending: state.isPending,
    told: (signed_in: boolean) => client.setQueryData(KEY, { needed: true, signed_in, waits_s: 0 }),
    signOut: async () => client.setQueryData(KEY, await data(api.POST("/api/v1/access/sign-out"))),
  };
}

export function Gate({ children }: { children: ReactNode }) {
  const { state, pending, told } = useAccess();
  // Until it is known, and where the server does not answer, nothing is in the way: it is the server that refuses.
  if (!state && pending && !dataShown()) return <p className="loading">{common.opening}</p>; // whose data, says the first answer
  if (!state?.needed || state.signed_in) return children;
  return (
    <Suspense fallback={<p className="loading">{common.opening}</p>}>
      <Passcode taken={() => told(true)} />
    </Suspense>
  );
}
