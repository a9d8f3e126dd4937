/** Rows of a table of things side by side. */
import type { ReactNode } from "react";

export function Line({ label, cells }: { label: string; cells: ReactNode[] }) {
  return (
    <tr>
      <th scope="row">{label}</th>
      {cells.map((cell, i) => (
        <td key={i} className="num">
          {cell}
        </td>
      ))}
    </tr>
  );
}

export function Heading({ words: text, span }: { words: string; span: number }) {
  return (
    <tr className="heading">
      <th scope="rowgroup" colSpan={span + 1}>
        {text}
      </th>
    </tr>
  );
}
