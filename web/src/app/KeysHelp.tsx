import { Modal } from "antd";

const EVERYWHERE = [
  ["?", "this list"],
  ["f", "field theme on and off"],
  ["Tab", "next control or handle"],
];
const RIG = [
  ["Ctrl Z", "undo"],
  ["Ctrl Shift Z", "redo"],
  ["1 … 6", "stops Aim, Glass, Spacing, Load, Guide and Power"],
  ["l", "lay a part"],
  ["Enter on a block", "open the part"],
  ["Alt ← →", "move the chosen part along the path"],
];
const AIM = [
  ["← ↑ → ↓ on the frame", "move it by a twentieth of the field; with Shift by a fifth"],
  ["[ ]", "turn it by 1°; with Shift by 10°"],
  ["wheel on the sky", "turn the frame"],
  ["+ −", "closer, wider"],
  ["0", "centre the frame on the target"],
];

const SPACING = [
  ["← → on a block", "mark the part before, the part behind"],
  ["i", "what fits at the joint ahead of the marked part"],
  ["Alt ← →", "move the marked part along the train"],
  ["+ −", "nudge an adjustable part by 0.1 mm"],
  ["Del", "take the marked part out"],
  ["r", "find rings"],
];

const LOAD = [
  ["← → on the tube", "slide it in the saddle by 1 mm; with Shift by 10"],
  ["↑ ↓ on a weight", "slide it on the shaft"],
  ["arrows on a rider", "move it along and off the tube"],
];

/** The shortcuts of a page. */
export function KeysHelp({ path, close }: { path: string; close: () => void }) {
  const onRig = path.startsWith("/rigs/");
  const rows = [
    ...EVERYWHERE,
    ...(onRig ? RIG : []),
    ...(path.endsWith("aim") ? AIM : []),
    ...(path.endsWith("spacing") ? SPACING : []),
    ...(path.endsWith("load") ? LOAD : []),
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
