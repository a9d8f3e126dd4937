/** Keep: when the last good backup was made, all backups, restore, export and import of everything. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { App, Button } from "antd";
import { useState } from "react";
import { api, data, words } from "../api/client";
import { takeArchive } from "../api/importFile";
import type { JobTold } from "../api/types";
import { FileButton } from "../kit/FileButton";
import { JobProgress } from "../kit/JobProgress";
import { fixed } from "../kit/quantity";
import { terms as common } from "../terms/common";
import { terms } from "../terms/keep";
import { Phrase, phrase } from "../terms/phrase";
import { LeftBehind } from "./LeftBehind";
import "./keep.module.css";

const when = (at: string) =>
  new Date(at).toLocaleString("en-GB", {
    day: "numeric",
    month: "short",
    year: "numeric",
    hour: "2-digit",
    minute: "2-digit",
  });
const size = (bytes: number) =>
  bytes > 1e6 ? `${fixed(bytes / 1e6, 1)} MB` : `${Math.ceil(bytes / 1000)} kB`;

export default function Keep() {
  const client = useQueryClient();
  const { modal, notification } = App.useApp();
  const view = useQuery({ queryKey: ["keep"], queryFn: () => data(api.GET("/api/v1/keep")) });
  const fail = (error: unknown) =>
    notification.error({ message: common.notDone, description: words(error), duration: 0 });
  const make = useMutation({
    mutationFn: () => data(api.POST("/api/v1/keep/backup")),
    onSuccess: (next) => client.setQueryData(["keep"], next),
    onError: fail,
  });
  const restore = useMutation({
    mutationFn: (name: string) => data(api.POST("/api/v1/keep/restore", { body: { name } })),
    onSuccess: async () => {
      await client.invalidateQueries();
      notification.success({
        message: terms.restored,
        description: terms.whatWasThereBeforeIsThe,
      });
    },
    onError: fail,
  });
  const [job, setJob] = useState<JobTold | null>(null);
  const take = useMutation({
    mutationFn: (file: File) => takeArchive(file, setJob),
    onSettled: () => setJob(null),
    onSuccess: async ({ words: said, differ }) => {
      await client.invalidateQueries();
      notification.success({
        message: said,
        duration: 0,
        description:
          differ && differ.length > 0
            ? phrase(terms.leftAsTheyAreHereThe, { differ: differ.join(", ") })
            : undefined,
      });
    },
    onError: fail,
  });
  const ask = (name: string, made: string) =>
    modal.confirm({
      title: phrase(terms.restoreTheBackupOfMade, { made }),
      content: terms.allDataBecomeThoseOfThe,
      okText: terms.restore,
      cancelText: common.leaveAllAsItIs,
      onOk: () => restore.mutateAsync(name).catch(() => undefined),
    });
  const keep = view.data;
  return (
    <main className="board keep-page">
      <div className="board-head">
        <h1>{common.backupsAndExport}</h1>
        <div className="actions">
          <a className="ant-btn keep-export" href="/api/v1/keep/export" download>
            {terms.exportEverything}
          </a>
          <FileButton
            words={terms.takeInAnExport}
            label={terms.archiveOfEverything}
            accept=".zip,application/zip"
            loading={take.isPending}
            onFile={(file) => take.mutate(file)}
          />
          <Button type="primary" loading={make.isPending} onClick={() => make.mutate()}>
            {terms.backUpNow}
          </Button>
        </div>
      </div>
      {job && <JobProgress job={job} title={terms.importingArchive} />}
      {view.error && <p className="fault">{words(view.error)}</p>}
      {keep && (
        <>
          <p className="keep-last" data-testid="last-backup">
            {keep.last ? (
              <Phrase
                of={terms.lastGoodBackupLast}
                with={{ last: <strong className="num">{when(keep.last)}</strong> }}
              />
            ) : (
              <strong>{terms.noBackupWasMadeYetThe}</strong>
            )}
          </p>
          {keep.failed && (
            <p className="fault" role="alert">
              <Phrase of={terms.theAutomaticBackupFailedFailed} with={{ failed: keep.failed }} />
            </p>
          )}
          <p className="quiet">
            <Phrase
              of={terms.madeByItselfEveryDayOn}
              with={{ folder: keep.folder, keep: size(keep.size), data: keep.data }}
            />
          </p>
          <div
            className="table-scroll"
            role="region"
            tabIndex={0}
            aria-label={terms.backups}
            hidden={keep.backups.length === 0}
          >
            <table className="plain-table" data-testid="backups">
              <thead>
                <tr>
                  <th scope="col">{terms.made}</th>
                  <th scope="col">{common.size}</th>
                  <th scope="col">{terms.how}</th>
                  <th scope="col">{terms.file}</th>
                  <th scope="col">
                    <span className="quiet">{terms.whatToDo}</span>
                  </th>
                </tr>
              </thead>
              <tbody>
                {keep.backups.map((one) => (
                  <tr key={one.name}>
                    <th scope="row" className="num">
                      {when(one.made)}
                    </th>
                    <td className="num">{size(one.size)}</td>
                    <td>{one.daily ? terms.byItself : terms.byHandOrBeforeARestore}</td>
                    <td>
                      <a href={`/api/v1/keep/backups/${one.name}`} download>
                        {one.name}
                      </a>
                    </td>
                    <td>
                      <Button
                        size="small"
                        loading={restore.isPending}
                        onClick={() => ask(one.name, when(one.made))}
                      >
                        {terms.restore}
                      </Button>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          <p className="quiet">{terms.anExportIsOneArchiveOf}</p>
        </>
      )}
      <LeftBehind />
    </main>
  );
}
