/** The typed client, and errors as the server words them. */
import { notifyManager, QueryClient } from "@tanstack/react-query";
import createClient, { createQuerySerializer } from "openapi-fetch";
import { dataShown } from "../kept/keeping";
import { terms } from "../terms/api";
import { terms as common } from "../terms/common";
import type { paths } from "./generated/schema";
import type { Fault } from "./types";

/** The night that was chosen for the whole application; null is tonight. It goes with every call. */
export const asked: { night: string | null } = { night: null };

const serialize = createQuerySerializer();
export const api = createClient<paths>({
  baseUrl: "/",
  querySerializer: (query) => serialize(asked.night ? { night: asked.night, ...query } : query),
});

/** The data that an answer is of go with what is saved: what was typed on others is not written to these. */
export const DATA = "dravel-data";
const others = new Set<(id: string) => void>();
/** Hears of an answer from other data than those that this page shows. */
export const onOtherData = (hear: (id: string) => void) => {
  others.add(hear);
  return () => void others.delete(hear);
};
/** Looks which data an answer is of. */
export function heard(response: Response) {
  const id = response.headers.get(DATA);
  if (id && id !== dataShown()) for (const hear of others) hear(id);
}
api.use({
  onRequest: ({ request }) => {
    if (request.method !== "GET" && dataShown()) request.headers.set(DATA, dataShown());
  },
  onResponse: ({ response }) => heard(response),
});

/** What the server refused, in its own words, with the fields it names. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly faults: Fault[] = [],
    readonly current: number | null = null,
    readonly kind = "",
  ) {
    super(message);
  }
}

type Answer<T> = { data?: T; error?: unknown; response: Response };

/** The data of an answer; throws `Refused` with the server's words otherwise. */
export async function data<T>(call: Promise<Answer<T>>): Promise<T> {
  const answer = await call.catch(() => {
    throw new Refused(0, terms.dravelsServerDoesNotAnswerWhat);
  });
  if (answer.response.ok) return answer.data as T;
  const problem = (answer.error ?? {}) as {
    detail?: string;
    errors?: Fault[];
    current?: number | null;
    type?: string;
  };
  throw new Refused(
    answer.response.status,
    problem.detail ?? common.theServerRefusedThis,
    problem.errors ?? [],
    problem.current ?? null,
    problem.type,
  );
}

/** As `data`, for answers that hold points: the client's types forget that a point is a pair. */
export function dataAs<T>(call: Promise<Answer<unknown>>): Promise<T> {
  return data(call) as Promise<T>;
}

// What is set shows in the moment it is set: a choice that a control has to wait for jumps back first.
notifyManager.setScheduler(queueMicrotask);
export const queries = new QueryClient({
  defaultOptions: { queries: { retry: false, refetchOnWindowFocus: true, staleTime: 2_000 } },
});

export function words(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}

/** Asks again for what a key names. A first answer still under way may be older than the change: it is dropped. */
export async function askAgain(client: QueryClient, key: string): Promise<void> {
  await client.cancelQueries({ queryKey: [key] });
  await client.invalidateQueries({ queryKey: [key] });
}
