import { Button, Modal } from "antd";
import type { CsvReport } from "../api/types";

interface Props {
  report: CsvReport;
  what: "parts" | "targets";
  busy: boolean;
  keep: () => void;
  close: () => void;
}

/** What a file holds, before anything is kept: the good parts or targets, and each bad line with its reason. */
export function ImportReport({ report, what, busy, keep, close }: Props) {
  const wrong = report.faults.length + (report.more ?? 0);
  return (
    <Modal
      open
      title={what === "parts" ? "Parts from CSV" : "Targets from a file"}
      onCancel={close}
      footer={[
        <Button key="no" onClick={close}>
          Leave it
        </Button>,
        <Button key="yes" type="primary" disabled={report.added === 0} loading={busy} onClick={keep}>
          {report.added === 0
            ? "Nothing to add"
            : report.faults.length > 0
              ? `Add the ${report.added} good ones`
              : `Add ${report.added} ${what}`}
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
