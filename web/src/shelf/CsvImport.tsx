import { useMutation, useQueryClient } from "@tanstack/react-query";
import { App, Button, Modal } from "antd";
import { api, data, words } from "../api/client";
import type { CsvReport } from "../api/types";

/** What a CSV file holds, before anything is kept: the good parts, and each bad line with its reason. */
export function CsvImport({
  given,
  close,
}: {
  given: { text: string; report: CsvReport };
  close: () => void;
}) {
  const { notification } = App.useApp();
  const client = useQueryClient();
  const { report, text } = given;
  const keep = useMutation({
    mutationFn: () =>
      data(
        api.POST("/api/v1/parts.csv", {
          params: { query: { keep: true } },
          body: text,
          bodySerializer: (b: unknown) => b as string,
          headers: { "content-type": "text/csv" },
        }),
      ),
    onSuccess: (made) => {
      void client.invalidateQueries({ queryKey: ["parts"] });
      notification.success({ message: `${made.added} parts are on the shelf` });
      close();
    },
    onError: (error) =>
      notification.error({ message: "Not imported", description: words(error), duration: 0 }),
  });
  return (
    <Modal
      open
      title="Parts from CSV"
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
          {report.faults.length > 0 ? `Add the ${report.added} good ones` : `Add ${report.added} parts`}
        </Button>,
      ]}
    >
      <p>
        {report.added} {report.added === 1 ? "part" : "parts"} can be read; {report.faults.length}{" "}
        {report.faults.length === 1 ? "line" : "lines"} cannot.
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
        </ul>
      )}
    </Modal>
  );
}
