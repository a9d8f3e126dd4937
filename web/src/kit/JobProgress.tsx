/** How far a job is, and the way to stop it. */
import { Button, Modal, Progress } from "antd";
import { stopJob } from "../api/importFile";
import type { JobTold } from "../api/types";
import { terms as common } from "../terms/common";
import { terms } from "../terms/kit";

export function JobProgress({ job, title }: { job: JobTold; title: string }) {
  return (
    <Modal
      open
      title={title}
      closable={false}
      footer={
        <Button onClick={() => void stopJob(job)} disabled={job.stop}>
          {job.stop ? terms.stopping : common.stop}
        </Button>
      }
    >
      <Progress
        percent={job.total ? Math.floor((100 * job.done) / job.total) : 0}
        status="active"
        showInfo={job.total > 0}
      />
      <p className="quiet" role="status">
        {job.words || terms.waitingForItsTurn}
      </p>
    </Modal>
  );
}
