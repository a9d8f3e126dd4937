/** The rig taken apart, to scale: the light path in a row, what carries it, what rides along; the card's part lit. */
import type { AssemblyView } from "../../api/types";
import { Plot } from "../../kit/plot";
import { terms } from "../../terms/assembly";

const WIDTH = 560;
const ROW = 92;
const GAP = 10;

export function Exploded({ view, lit }: { view: AssemblyView; lit: readonly string[] }) {
  const rows = [0, 1, 2]
    .map((row) => view.pieces.filter((one) => one.row === row))
    .filter((row) => row.length);
  return (
    <Plot
      width={WIDTH}
      height={rows.length * ROW}
      name="exploded"
      className="exploded"
      label={terms.theRigTakenApartEachRow}
      rest={view.pieces.find((one) => lit.includes(one.key))?.name ?? terms.eachRowToAScaleOf}
    >
      {rows.map((row, i) => {
        const long = row.reduce((sum, one) => sum + one.length_mm, 0);
        const high = Math.max(...row.map((one) => one.height_mm));
        const scale = Math.min((WIDTH - 20 - GAP * (row.length - 1)) / long, (ROW - 18) / high);
        let at = 10;
        return (
          <g key={row[0]?.row} transform={`translate(0 ${i * ROW + ROW / 2})`}>
            {row.map((one, k) => {
              const [wide, tall] = [one.length_mm * scale, one.height_mm * scale];
              const x = at;
              at += wide + GAP;
              return (
                <g key={k} className={lit.includes(one.key) ? "piece lit" : "piece"} data-says={one.name}>
                  {k > 0 && <line x1={x - GAP} x2={x} y1={0} y2={0} />}
                  <rect x={x} y={-tall / 2} width={Math.max(wide, 2)} height={tall} rx={2} />
                </g>
              );
            })}
          </g>
        );
      })}
    </Plot>
  );
}
