import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef } from "react";
import { useSaveQueue } from "./useSaveQueue";

interface Kept<B> {
  version: number;
  body: B;
}
type Entry<B> = Kept<B> & { id: string };

/**
 * Edits of kept things, one save after the other, each on what the one before it left: quick hands lose nothing.
 * A change shows at once; when it is refused, what the server holds is read again and the error is handed on.
 * Under `key` stands a list of them, or the one there is (edited under no id).
 */
export function useQueuedEdits<B>(
  key: string,
  put: (id: string, base: number, body: B) => Promise<Kept<B>>,
  failed: (error: unknown) => void,
) {
  const client = useQueryClient();
  const saves = useSaveQueue();
  const call = useRef({ put, failed });
  call.current = { put, failed };
  return useCallback(
    (id: string, part: Partial<B>) => {
      const one = () => {
        const now = client.getQueryData<Entry<B>[] | Kept<B>>([key]);
        return Array.isArray(now) ? now.find((entry) => entry.id === id) : now;
      };
      const replace = (change: (entry: Kept<B>) => Partial<Kept<B>>) =>
        client.setQueryData<Entry<B>[] | Kept<B>>([key], (now) =>
          Array.isArray(now)
            ? now.map((entry) => (entry.id === id ? { ...entry, ...change(entry) } : entry))
            : now && { ...now, ...change(now) },
        );
      void client.cancelQueries({ queryKey: [key], exact: true });
      replace(({ body }) => ({ body: { ...body, ...part } }));
      void saves.add(
        async () => {
          const now = one();
          if (!now) return;
          try {
            const { version } = await call.current.put(id, now.version, now.body);
            replace(() => ({ version }));
          } catch (error) {
            await client.refetchQueries({ queryKey: [key], exact: true });
            throw error;
          }
          await client.invalidateQueries({ predicate: (query) => query.queryKey[0] !== key });
        },
        (fault) => call.current.failed(fault),
      );
    },
    [client, key, saves],
  );
}
