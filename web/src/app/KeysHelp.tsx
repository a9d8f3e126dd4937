import { Modal } from "antd";
import { terms } from "../terms/app";
import { useAllKeys } from "./keys";

/** The keys that work now, by what they belong to. */
export function KeysHelp({ close }: { close: () => void }) {
  return (
    <Modal open title={terms.keys} onCancel={close} footer={null}>
      {useAllKeys().map(
        ({ title, rows }) =>
          rows.length > 0 && (
            <table key={title} className="keys">
              <caption>{title}</caption>
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
          ),
      )}
    </Modal>
  );
}
