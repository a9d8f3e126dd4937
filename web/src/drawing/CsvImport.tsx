import { useMutation, useQueryClient } from "@tanstack/react-query";
import { App, Button, Modal } from "antd";
import { api, data, words } from "../api/client";
import type { CsvReport } from "../api/types";

/** What a file holds, before anything is kept: the good parts or targets, and each bad line with its reason. */
export function CsvImport({
  given,
  what,
  close,
}: {
  given: { text: string; report: CsvReport };
  what: "parts" | "targets";
  close: () => void;
}) {
  const { notification } = App.useApp();
  const client = useQueryClient();
  const { report, text } = given;
  const wrong = report.faults.length + (report.more ?? 0);
  const keep = useMutation({
    mutationFn: () => {
      const ask = { params: { query: { keep: true } }, body: text as never, bodySerializer: () => text };
      return data<CsvReport>(
        what === "parts" ? api.POST("/api/v1/parts.csv", ask) : api.POST("/api/v1/targets/file", ask),
      );
    },
    onSuccess: (made) => {
      void client.invalidateQueries();
      notification.success({
        message:
          what === "parts" ? `${made.added} parts are on the shelf` : `${made.added} targets were added`,
      });
      close();
    },
    onError: (error) =>
      notification.error({ message: "Not imported", description: words(error), duration: 0 }),
  });
  return (
    <Modal
      open
      title={what === "parts" ? "Parts from CSV" : "Targets from a file"}
      onCancel={close}
      footer={[
        <Button key="no" onClick={close}>
          Leave it
        </Button>,
        <Button
          key="yes"
          type="primary"
          disabled={report.added === 0}
          loading={keep.isPending}
          onClick={() => keep.mutate()}
        >
          {report.faults.length > 0 ? `Add the ${report.added} good ones` : `Add ${report.added} ${what}`}
        </Button>,
      ]}
    >
      <p>
        {report.added} {report.added === 1 ? what.slice(0, -1) : what} can be read; {wrong}{" "}
        {wrong === 1 ? "line" : "lines"} cannot.
      </p>
      {report.faults.length > 0 && (
        <ul className="line-faults">
          {report.faults.map((row) => (
            <li key={row.line}>
              <strong>Line {row.line}</strong>
              {row.faults.map((fault) => (
                <span key={fault.field + fault.reason} className="fault">
                  {fault.field}: {fault.reason}
                </span>
              ))}
            </li>
          ))}
          {(report.more ?? 0) > 0 && <li>and {report.more} more</li>}
        </ul>
      )}
    </Modal>
  );
}
