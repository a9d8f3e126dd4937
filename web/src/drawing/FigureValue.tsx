/** A number with its quiet unit, and its working on demand. */
import { Popover } from "antd";
import type { Figure } from "../api/types";
import { usePracticeUnits } from "../practice/usePractice";
import { format, plain } from "./quantity";

export function FigureValue({ figure, label, extra }: { figure: Figure; label?: string; extra?: string }) {
  const units = usePracticeUnits();
  const [value, unit] = format(figure.value, figure.unit, figure.decimals ?? 2, units);
  return (
    <Popover trigger="click" content={<Working figure={figure} />} title={figure.title}>
      <button type="button" className="figure" title="Show the working">
        <span className="figure-value">
          {extra ? `${value}${extra}` : value}
          <small>{unit}</small>
        </span>
        <span className="figure-label">{label ?? figure.title}</span>
      </button>
    </Popover>
  );
}

/** Formula, inputs and source of a figure. */
export function Working({ figure }: { figure: Figure }) {
  return (
    <div className="working">
      <p className="formula">
        {figure.formula} = {plain(figure.value, 4)} {figure.unit}
      </p>
      <table>
        <tbody>
          {figure.inputs.map((input) => (
            <tr key={input.name}>
              <th scope="row">{input.symbol}</th>
              <td className="num">
                {plain(input.value, 4)} {input.unit}
              </td>
              <td>
                {input.name}, <span className="quiet">{input.origin}</span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="quiet">Source: {figure.source}</p>
      {figure.note && <p className="quiet">{figure.note}</p>}
    </div>
  );
}
