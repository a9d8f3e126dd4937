import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef } from "react";
import { useStayWhile } from "./useStayWhile";

interface Kept<B> {
  id: string;
  version: number;
  body: B;
}

/**
 * Edits of kept things, one save after the other, each on what the one before it left: quick hands lose nothing.
 * A change shows at once; when it is refused, what the server holds is read again and the error is handed on.
 */
export function useQueuedEdits<B>(
  key: string,
  put: (id: string, base: number, body: B) => Promise<Kept<B>>,
  failed: (error: unknown) => void,
) {
  const client = useQueryClient();
  const queue = useRef<Promise<void>>(Promise.resolve());
  const waiting = useRef(0);
  useStayWhile(() => waiting.current > 0);
  const call = useRef({ put, failed });
  call.current = { put, failed };
  return useCallback(
    (id: string, part: Partial<B>) => {
      const replace = (with_: (entry: Kept<B>) => Kept<B>) =>
        client.setQueryData<Kept<B>[]>([key], (now) =>
          now?.map((entry) => (entry.id === id ? with_(entry) : entry)),
        );
      void client.cancelQueries({ queryKey: [key], exact: true });
      replace((entry) => ({ ...entry, body: { ...entry.body, ...part } }));
      waiting.current += 1;
      queue.current = queue.current.then(async () => {
        const now = client.getQueryData<Kept<B>[]>([key])?.find((entry) => entry.id === id);
        try {
          if (!now) return;
          const kept = await call.current.put(id, now.version, now.body);
          replace((entry) => ({ ...entry, version: kept.version }));
          call.current.failed(null);
          await client.invalidateQueries({ predicate: (query) => query.queryKey[0] !== key });
        } catch (error) {
          await client.refetchQueries({ queryKey: [key], exact: true });
          call.current.failed(error);
        } finally {
          waiting.current -= 1;
        }
      });
    },
    [client, key],
  );
}
