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
    notification.error({ message: "Not done", description: words(error), duration: 0 });
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
        message: "Restored",
        description: "What was there before is the newest backup now.",
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
            ? `Left as they are here, the archive says otherwise: ${differ.join(", ")}`
            : undefined,
      });
    },
    onError: fail,
  });
  const ask = (name: string, made: string) =>
    modal.confirm({
      title: `Restore the backup of ${made}?`,
      content:
        "All data become those of the backup. What is there now is backed up first, so that this can be taken back.",
      okText: "Restore it",
      cancelText: "Leave all as it is",
      onOk: () => restore.mutateAsync(name).catch(() => undefined),
    });
  const keep = view.data;
  return (
    <main className="board keep-page">
      <div className="board-head">
        <h1>Backups and export</h1>
        <div className="actions">
          <a className="ant-btn keep-export" href="/api/v1/keep/export" download>
            Export everything
          </a>
          <FileButton
            words="Take in an export"
            label="Archive of everything"
            accept=".zip,application/zip"
            loading={take.isPending}
            onFile={(file) => take.mutate(file)}
          />
          <Button type="primary" loading={make.isPending} onClick={() => make.mutate()}>
            Back up now
          </Button>
        </div>
      </div>
      {job && <JobProgress job={job} title="Importing archive" />}
      {view.error && <p className="fault">{words(view.error)}</p>}
      {keep && (
        <>
          <p className="keep-last" data-testid="last-backup">
            {keep.last ? (
              <>
                Last good backup: <strong className="num">{when(keep.last)}</strong>
              </>
            ) : (
              <strong>No backup was made yet. The first is made by itself a minute after the start.</strong>
            )}
          </p>
          {keep.failed && (
            <p className="fault" role="alert">
              The automatic backup failed: {keep.failed}
            </p>
          )}
          <p className="quiet">
            Made by itself every day on which something changed, and restored once in a scratch place before
            it counts. Of the automatic ones seven days, five weeks and twelve months are kept; those made by
            hand stay. They lie in {keep.folder}: copy that folder to another disk, for a backup on the same
            disk dies with it. The data ({size(keep.size)}) are in {keep.data}.
          </p>
          <div
            className="table-scroll"
            role="region"
            tabIndex={0}
            aria-label="Backups"
            hidden={keep.backups.length === 0}
          >
            <table className="plain-table" data-testid="backups">
              <thead>
                <tr>
                  <th scope="col">made</th>
                  <th scope="col">size</th>
                  <th scope="col">how</th>
                  <th scope="col">file</th>
                  <th scope="col">
                    <span className="quiet">what to do</span>
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
                    <td>{one.daily ? "by itself" : "by hand or before a restore"}</td>
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
                        Restore
                      </Button>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          <p className="quiet">
            An export is one archive of open formats: JSON by a published schema, light as CSV, measured
            frames as FITS, pictures and documents as they are. Taking one in adds what is not here and
            changes nothing.
          </p>
        </>
      )}
      <LeftBehind />
    </main>
  );
}
