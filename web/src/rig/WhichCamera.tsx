/** A second camera: it may guide, or take the place of the one that takes the pictures. Nothing is replaced unasked. */
import { Button, Modal } from "antd";

interface Props {
  name: string;
  there: string;
  guides: () => void;
  replaces: () => void;
  close: () => void;
}

export function WhichCamera({ name, there, guides, replaces, close }: Props) {
  return (
    <Modal open title={`What is the ${name} for?`} onCancel={close} footer={null}>
      <p>The {there} takes the pictures of this rig.</p>
      <div className="button-row">
        <Button type="primary" onClick={guides}>
          It guides
        </Button>
        <Button onClick={replaces}>It takes the pictures instead</Button>
        <Button type="text" onClick={close}>
          Leave all as it is
        </Button>
      </div>
    </Modal>
  );
}
