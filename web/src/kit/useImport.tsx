/** Reading a file of parts or targets: what it holds is shown before anything is kept, and a long read can be stopped. */
import { useQueryClient } from "@tanstack/react-query";
import { App } from "antd";
import { useState } from "react";
import { words } from "../api/client";
import { type ImportKind, importFile } from "../api/importFile";
import type { CsvReport, JobTold } from "../api/types";
import { terms } from "../terms/kit";
import { phrase } from "../terms/phrase";
import { ImportReport } from "./ImportReport";
import { JobProgress } from "./JobProgress";

export function useImport(kind: ImportKind) {
  const { notification } = App.useApp();
  const client = useQueryClient();
  const [job, setJob] = useState<JobTold | null>(null);
  const [given, setGiven] = useState<{ file: File; report: CsvReport } | null>(null);
  const [busy, setBusy] = useState(false);

  async function go(file: File, keep: boolean): Promise<CsvReport | undefined> {
    setBusy(true);
    try {
      return await importFile(kind, file, keep, setJob);
    } catch (error) {
      notification.error({ message: terms.notImported, description: words(error), duration: 0 });
      return undefined;
    } finally {
      setJob(null);
      setBusy(false);
    }
  }

  async function read(file: File) {
    const report = await go(file, false);
    if (report) setGiven({ file, report });
  }

  async function keep() {
    const made = given && (await go(given.file, true));
    if (!made) return;
    setGiven(null);
    void client.invalidateQueries();
    notification.success({
      message:
        kind === "parts"
          ? phrase(terms.addedPartsAreOnTheShelf, { added: made.added })
          : phrase(terms.addedTargetsWereAdded, { added: made.added }),
    });
  }

  const dialog = (
    <>
      {given && (
        <ImportReport
          report={given.report}
          what={kind}
          busy={busy}
          keep={() => void keep()}
          close={() => setGiven(null)}
        />
      )}
      {job && <JobProgress job={job} title={kind === "parts" ? terms.readingParts : terms.readingTargets} />}
    </>
  );
  return { read, dialog };
}
