import { Button, Modal } from "antd";
import type { CsvReport } from "../api/types";
import { terms as common } from "../terms/common";
import { terms } from "../terms/kit";
import { Phrase, phrase } from "../terms/phrase";

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
      title={what === "parts" ? terms.partsFromCsv : terms.targetsFromAFile}
      onCancel={close}
      footer={[
        <Button key="no" onClick={close}>
          {terms.leaveIt}
        </Button>,
        <Button key="yes" type="primary" disabled={report.added === 0} loading={busy} onClick={keep}>
          {report.added === 0
            ? terms.nothingToAdd
            : report.faults.length > 0
              ? phrase(terms.addTheAddedGoodOnes, { added: report.added })
              : phrase(terms.addAddedWhat, { added: report.added, what })}
        </Button>,
      ]}
    >
      <p>
        <Phrase
          of={terms.addedWhatCanBeReadWrong}
          with={{
            added: report.added,
            what: report.added === 1 ? what.slice(0, -1) : what,
            wrong,
            which: wrong === 1 ? terms.line : terms.lines,
          }}
        />
      </p>
      {report.faults.length > 0 && (
        <ul className="line-faults">
          {report.faults.map((row) => (
            <li key={row.line}>
              <strong>
                <Phrase of={terms.lineLine} with={{ line: row.line }} />
              </strong>
              {row.faults.map((fault) => (
                <span key={fault.field + fault.reason} className="fault">
                  {fault.field}: {fault.reason}
                </span>
              ))}
            </li>
          ))}
          {(report.more ?? 0) > 0 && (
            <li>
              <Phrase of={common.andMoreMore} with={{ more: report.more }} />
            </li>
          )}
        </ul>
      )}
    </Modal>
  );
}
