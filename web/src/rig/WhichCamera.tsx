/** A second camera: it may guide, or take the place of the one that takes the pictures. Nothing is replaced unasked. */
import { Button, Modal } from "antd";
import { terms as common } from "../terms/common";
import { Phrase, phrase } from "../terms/phrase";
import { terms } from "../terms/rig";

interface Props {
  name: string;
  there: string;
  guides: () => void;
  replaces: () => void;
  close: () => void;
}

export function WhichCamera({ name, there, guides, replaces, close }: Props) {
  return (
    <Modal open title={phrase(terms.whatIsTheNameFor, { name })} onCancel={close} footer={null}>
      <p>
        <Phrase of={terms.theThereTakesThePicturesOf} with={{ there }} />
      </p>
      <div className="button-row">
        <Button type="primary" onClick={guides}>
          {terms.itGuides}
        </Button>
        <Button onClick={replaces}>{terms.itTakesThePicturesInstead}</Button>
        <Button type="text" onClick={close}>
          {common.leaveAllAsItIs}
        </Button>
      </div>
    </Modal>
  );
}
