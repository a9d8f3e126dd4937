/** Files of parts and targets: small ones are read at once; large ones and archives as a job that can be watched and stopped. */

import { terms } from "../terms/api";
import { api, data, Refused } from "./client";
import type { CsvReport, JobTold } from "./types";

export type ImportKind = "parts" | "targets";

/** Beyond this a file is read in a process of its own. */
const LARGE_BYTES = 1_000_000;

/** Reads a file on the server; `follow` is told how far a long one is. Nothing is kept without `keep`. */
export async function importFile(
  kind: ImportKind,
  file: File,
  keep: boolean,
  follow: (job: JobTold) => void,
): Promise<CsvReport> {
  const ask = { params: { query: { keep } }, body: file as never, bodySerializer: () => file };
  if (file.size <= LARGE_BYTES)
    return data<CsvReport>(
      kind === "parts" ? api.POST("/api/v1/parts.csv", ask) : api.POST("/api/v1/targets/file", ask),
    );
  const begun = await data(
    api.POST("/api/v1/jobs/{kind}", { ...ask, params: { path: { kind }, query: { keep } } }),
  );
  const { report } = await ended(begun, follow);
  return report as CsvReport;
}

/** Takes in what an archive of everything holds and is not here, all or nothing. */
export async function takeArchive(file: File, follow: (job: JobTold) => void) {
  const begun = await data(
    api.POST("/api/v1/jobs/archive", { body: file as never, bodySerializer: () => file } as never),
  );
  const { taken } = await ended(begun, follow);
  return taken as NonNullable<JobTold["taken"]>;
}

export const stopJob = (job: JobTold) =>
  data(api.POST("/api/v1/jobs/{job_id}/stop", { params: { path: { job_id: job.id } } }));

/** A job that was done; throws what it says of itself where it was not. */
async function ended(begun: JobTold, follow: (job: JobTold) => void): Promise<JobTold> {
  follow(begun);
  const job = await watched(begun.id, follow);
  if (job.state === "done") return job;
  throw new Refused(0, `${job.state === "stopped" ? "Stopped" : terms.failed}: ${job.words}.`);
}

function watched(id: string, follow: (job: JobTold) => void): Promise<JobTold> {
  return new Promise((done, fail) => {
    const events = new EventSource(`/api/v1/jobs/${id}/events`);
    events.onmessage = (event) => {
      const job = JSON.parse(event.data) as JobTold;
      follow(job);
      if (job.state === "waiting" || job.state === "running") return;
      events.close();
      done(job);
    };
    events.onerror = () => {
      // The browser asks again by itself unless the server is gone for good.
      if (events.readyState === EventSource.CLOSED) fail(new Refused(0, terms.dravelsServerDoesNotAnswerThe));
    };
  });
}
