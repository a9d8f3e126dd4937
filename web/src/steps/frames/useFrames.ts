/** Frames on their way: each goes to the server as it is, is measured there in a process of its own, and says how far it is. */
import { useCallback, useRef, useState } from "react";
import { api, data, words } from "../../api/client";
import type { JobTold } from "../../api/types";
import { terms } from "../../terms/frames";

const LOOK_MS = 400;

export interface Coming {
  key: string;
  name: string;
  words: string;
  failed: boolean;
}

export function useFrames(rigId: string, measured: () => void) {
  const [coming, setComing] = useState<readonly Coming[]>([]);
  const tell = useCallback((key: string, change: Partial<Coming> | null) => {
    setComing((now) =>
      change === null
        ? now.filter((one) => one.key !== key)
        : now.map((one) => (one.key === key ? { ...one, ...change } : one)),
    );
  }, []);
  // Counts the times somebody said stop: what was begun before is left.
  const stopped = useRef(0);
  const job = useRef("");
  const stop = async () => {
    stopped.current += 1;
    if (job.current)
      await api.POST("/api/v1/jobs/{job_id}/stop", { params: { path: { job_id: job.current } } });
  };
  const take = async (files: readonly File[]) => {
    const begun = stopped.current;
    for (const [i, file] of files.entries()) {
      if (stopped.current !== begun) break;
      const key = `${Date.now()} ${i} ${file.name}`;
      setComing((now) => [...now, { key, name: file.name, words: terms.onItsWay, failed: false }]);
      try {
        const asked = await sent(rigId, file);
        job.current = asked.id;
        if (stopped.current !== begun) await stop();
        const told = await watched(asked, (told) => tell(key, { words: told.words || told.state }));
        if (told.state === "done" || told.state === "stopped") tell(key, null);
        else tell(key, { words: told.words || told.state, failed: true });
        measured();
      } catch (error) {
        tell(key, { words: words(error), failed: true });
      }
      job.current = "";
    }
  };
  return { coming, take, stop, forget: (key: string) => tell(key, null) };
}

async function sent(rigId: string, file: File): Promise<JobTold> {
  return data(
    api.POST("/api/v1/jobs/frame/of/{rig_id}", {
      params: { path: { rig_id: rigId }, query: { name: file.name.slice(0, 200) } },
      body: file as unknown as string,
      bodySerializer: (body) => body as unknown as BodyInit,
      headers: { "content-type": "application/octet-stream" },
    }),
  );
}

async function watched(job: JobTold, tell: (job: JobTold) => void): Promise<JobTold> {
  let told = job;
  while (told.state === "waiting" || told.state === "running") {
    await new Promise((later) => setTimeout(later, LOOK_MS));
    told = await data(api.GET("/api/v1/jobs/{job_id}", { params: { path: { job_id: job.id } } }));
    tell(told);
  }
  return told;
}
