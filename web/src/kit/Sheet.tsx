import { Modal } from "antd";
import { terms as common } from "../terms/common";

interface Props {
  title: string;
  /** The sheet as SVG, and as the PDF to print. */
  svg: string;
  pdf: string;
  close: () => void;
}

/** A sheet of paper looked at inside the application: in red light it is red on black like all else. */
export function Sheet({ title, svg, pdf, close }: Props) {
  return (
    <Modal
      open
      title={title}
      onCancel={close}
      width="min(820px, 96vw)"
      footer={
        <a className="link" href={pdf} download>
          {common.printItPdf}
        </a>
      }
    >
      <div className="sheet">
        <img src={svg} alt={title} />
      </div>
    </Modal>
  );
}
