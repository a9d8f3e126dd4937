/** A number with its quiet unit, and its working on demand. */
import { Popover } from "antd";
import type { ReactNode } from "react";
import type { Evaluation, Figure } from "../api/types";
import { usePreferencesUnits } from "../preferences/usePreferences";
import { terms } from "../terms/kit";
import { Phrase, phrase } from "../terms/phrase";
import { format, plain } from "./quantity";
import { Says } from "./Says";

export function FigureValue({ figure, label, extra }: { figure: Figure; label?: string; extra?: string }) {
  const units = usePreferencesUnits();
  const [value, unit] = format(figure.value, figure.unit, figure.decimals ?? 2, units);
  return (
    <Popover trigger="click" content={<Working figure={figure} />} title={figure.title}>
      <button
        type="button"
        data-testid="figure"
        className="figure"
        data-figure={figure.key}
        title={terms.showTheWorking}
      >
        <span data-testid="figure-value" className="figure-value">
          {extra ? `${value}${extra}` : value}
          <small>{unit}</small>
        </span>
        <span className="figure-label">{label ?? figure.title}</span>
      </button>
    </Popover>
  );
}

/** A number standing anywhere that opens its working where it stands; plain where there is no figure behind it. */
export function Worked({ figure, children }: { figure: Figure | undefined; children: ReactNode }) {
  if (!figure) return <>{children}</>;
  return (
    <Popover trigger="click" content={<Working figure={figure} />} title={figure.title}>
      <button type="button" className="worked" data-figure={figure.key} title={terms.showTheWorking}>
        {children}
      </button>
    </Popover>
  );
}

/** The same, for a working that is asked for when it is wanted. */
export function WorkedLater({
  title,
  content,
  children,
}: {
  title: string;
  content: ReactNode;
  children: ReactNode;
}) {
  return (
    <Popover trigger="click" content={content} title={title} destroyOnHidden>
      <button type="button" className="worked" title={terms.showTheWorking}>
        {children}
      </button>
    </Popover>
  );
}

export const figureOf = (evaluation: Evaluation | null, key: string): Figure | undefined =>
  evaluation?.figures.find((figure) => figure.key === key);

/** Formula, inputs, source and key of a figure; of a given one, who says so. */
export function Working({ figure }: { figure: Figure }) {
  return (
    <div
      data-testid="working"
      className="working"
      data-figure={figure.key}
      role="region"
      tabIndex={0}
      aria-label={phrase(terms.workingOfTitle, { title: figure.title })}
    >
      <p className="formula">
        {figure.formula ? `${figure.formula} = ` : terms.given}
        {plain(figure.value, 4)} {figure.unit}
      </p>
      <table>
        <tbody>
          {figure.inputs.map((input) => (
            <tr key={`${input.symbol} ${input.origin.text}`}>
              <th scope="row">{input.symbol}</th>
              <td className="num">
                {plain(input.value, 4)} {input.unit}
              </td>
              <td>
                {input.name},{" "}
                <span className="quiet">
                  <Says text={input.origin} />
                </span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="quiet">
        <Phrase of={terms.sourceSource} with={{ source: figure.source }} />
      </p>
      {figure.note && <p className="quiet">{figure.note}</p>}
      <p className="quiet key">{figure.key}</p>
    </div>
  );
}
