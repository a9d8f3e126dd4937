/** Rows of a table of things side by side. */

export function Line({ label, cells }: { label: string; cells: string[] }) {
  return (
    <tr>
      <th scope="row">{label}</th>
      {cells.map((cell, i) => (
        <td key={`${i}-${cell}`} className="num">
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
