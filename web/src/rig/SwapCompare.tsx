/** Before and after: a part of the shelf in place of one in the path, with and without the rings that make it fit. */
import { useQuery } from "@tanstack/react-query";
import { Button, Modal } from "antd";
import { api, dataAs, words } from "../api/client";
import type { Part, PatchOperation, Rig, SwapAnswer, Swapped } from "../api/types";
import { Mark } from "../drawing/Mark";

interface Props {
  rig: Rig;
  index: number;
  part: Part;
  onSwap: (change: PatchOperation[], note: string) => void;
  close: () => void;
}

export function SwapCompare({ rig, index, part, onSwap, close }: Props) {
  const answer = useQuery({
    queryKey: ["swap", index, part.id, rig],
    queryFn: () =>
      dataAs<SwapAnswer>(api.POST("/api/v1/spacing/swap", { body: { rig, index, part_id: part.id ?? "" } })),
  });
  const old = rig.path?.[index]?.part.name ?? "";
  const both = answer.data ? [answer.data.plain, answer.data.fitted].filter((one) => one != null) : [];
  return (
    <Modal open title={`${part.name} in place of ${old}`} onCancel={close} footer={null} width={560}>
      {answer.error && <p className="fault">{words(answer.error)}</p>}
      {both.map((one, i) => (
        <section key={one.label} className="swap-choice">
          {i === 1 && <h3>With the rings that make it fit</h3>}
          {i === 1 && <p className="quiet">{one.label}.</p>}
          <Numbers swapped={one} />
          <Fits swapped={one} />
          <Moved swapped={one} />
          <Button
            type={i === both.length - 1 ? "primary" : "default"}
            onClick={() => onSwap([...one.change], one.label)}
          >
            {i === 0 ? "Swap it in" : "Swap it in with these rings"}
          </Button>
        </section>
      ))}
    </Modal>
  );
}

function Numbers({ swapped }: { swapped: Swapped }) {
  const rows = swapped.rows.filter((row) => {
    const [a, b] = [row.before, row.after];
    return a == null || b == null ? a !== b : Math.abs(a - b) > 0.5 * 10 ** -row.decimals;
  });
  if (rows.length === 0) return <p className="quiet">No number moves.</p>;
  return (
    <table data-testid="plain-table" className="plain-table">
      <thead>
        <tr>
          <th scope="col" />
          <th scope="col">before</th>
          <th scope="col">after</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.title}>
            <th scope="row">{row.title}</th>
            <td className="num">{row.before?.toFixed(row.decimals) ?? "—"}</td>
            <td className="num">
              {row.after?.toFixed(row.decimals) ?? "—"} <span className="quiet">{row.unit}</span>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Fits({ swapped }: { swapped: Swapped }) {
  if (swapped.fits.length === 0) return null;
  return (
    <ul className="plain-list" aria-label="Targets in the field, before and after">
      {swapped.fits.map((fit) => (
        <li key={fit.target}>
          <Mark verdict={fit.verdict} size={11} /> {fit.target}{" "}
          <span className="num">
            {fit.before ?? "—"} → {fit.after ?? "—"}
          </span>
        </li>
      ))}
    </ul>
  );
}

function Moved({ swapped }: { swapped: Swapped }) {
  if (swapped.moved.length === 0) {
    const fits = swapped.fits.length > 0;
    return (
      <p className="quiet">{fits ? "No verdict changes but how targets fit." : "No verdict changes."}</p>
    );
  }
  return (
    <ul data-testid="schools" className="schools">
      {swapped.moved.map((one) => (
        <li key={`${one.code}${one.subject}`}>
          {one.before ? <Mark verdict={one.before} size={11} /> : "·"} →{" "}
          {one.after ? <Mark verdict={one.after} size={11} /> : "gone"} {one.code} {one.title}
          {one.subject && <span className="quiet"> · {one.subject}</span>}
        </li>
      ))}
    </ul>
  );
}
