/** From another machine the passcode is asked for first; what lies behind is not even loaded before. */

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { type FormEvent, type ReactNode, useState } from "react";
import { api, data, words } from "../api/client";
import { dataShown } from "../kept/keeping";
import { terms } from "../terms/app";
import { terms as common } from "../terms/common";
import "./gate.module.css";

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
  const [passcode, setPasscode] = useState("");
  const [fault, setFault] = useState("");
  const [asking, setAsking] = useState(false);
  // Until it is known, and where the server does not answer, nothing is in the way: it is the server that refuses.
  if (!state && pending && !dataShown()) return <p className="loading">{common.opening}</p>; // whose data, says the first answer
  if (!state?.needed || state.signed_in) return children;
  async function enter(event: FormEvent) {
    event.preventDefault();
    setAsking(true);
    try {
      await data(api.POST("/api/v1/access", { body: { passcode } }));
      setFault("");
      setPasscode("");
      told(true);
    } catch (error) {
      setFault(words(error));
    } finally {
      setAsking(false);
    }
  }
  return (
    <main className="gate">
      <form onSubmit={(event) => void enter(event)}>
        <h1>{terms.dravel}</h1>
        <label>
          {terms.passcode}
          <Input.Password
            size="large"
            autoFocus
            autoComplete="current-password"
            value={passcode}
            onChange={(event) => setPasscode(event.target.value)}
          />
        </label>
        {fault && (
          <p className="fault" role="alert">
            {fault}
          </p>
        )}
        <Button type="primary" size="large" htmlType="submit" loading={asking} disabled={!passcode}>
          {terms.comeIn}
        </Button>
        <p className="quiet">{terms.whoeverStartedThisDravelHasSet}</p>
      </form>
    </main>
  );
}
