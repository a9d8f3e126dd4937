import { Modal } from "antd";
import { STEPS } from "../steps";
import { useSteps } from "../steps/useSteps";

const EVERYWHERE = [
  ["?", "this list"],
  ["f", "red light on and off"],
  ["Tab", "next control or handle"],
];
const RIG = [
  ["Ctrl Z", "undo"],
  ["Ctrl Shift Z", "redo"],
  ["l", "lay a part"],
  ["Enter on a block", "open the part"],
  ["Alt ← →", "move the chosen part along the path"],
];
/** The shortcuts of a page. */
export function KeysHelp({ path, close }: { path: string; close: () => void }) {
  const onRig = path.startsWith("/rigs/");
  const steps = useSteps();
  const shown = STEPS.find((step) => path.endsWith(`/${step.key}`));
  const titles = steps.map((step) => step.title).join(", ");
  const rows = [
    ...EVERYWHERE,
    ...(onRig ? [[`1 … ${steps.length}`, `steps ${titles}`], ...RIG] : []),
    ...(onRig && shown ? shown.keys : []),
  ];
  return (
    <Modal open title="Keys" onCancel={close} footer={null}>
      <table className="keys">
        <tbody>
          {rows.map(([keys, does]) => (
            <tr key={keys}>
              <th scope="row">
                <kbd>{keys}</kbd>
              </th>
              <td>{does}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Modal>
  );
}
