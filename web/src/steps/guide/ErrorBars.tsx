/** Terms of each budget stacked in squares, as they add, against half a pixel and a whole one. */
import { Bar, BarChart, ReferenceLine, XAxis, YAxis } from "recharts";
import type { GuideView } from "../../api/types";
import { AXIS, Chart, said } from "../../kit/chart";
import { fixed } from "../../kit/quantity";

const TONES = [
  "color-mix(in srgb, var(--glass) 60%, var(--panel))",
  "color-mix(in srgb, var(--holds) 60%, var(--panel))",
  "color-mix(in srgb, var(--strains) 60%, var(--panel))",
  "color-mix(in srgb, var(--quiet) 60%, var(--panel))",
  "color-mix(in srgb, var(--brass) 60%, var(--panel))",
];
const ROW = 56;

export function ErrorBars({ view }: { view: GuideView }) {
  const scale = view.scale ?? null;
  const told = view.methods.filter((method) => method.terms && method.terms.length > 0);
  if (!scale || told.length === 0) return null;
  const top = Math.max(scale * 1.2, ...told.map((method) => Math.min(method.rms_arcsec ?? 0, scale * 3)));
  const rows = told.map((method, row) => {
    const total = method.rms_arcsec ?? 0;
    const terms = method.terms ?? [];
    const squares = terms.reduce((sum, term) => sum + term.arcsec ** 2, 0);
    // Lengths share the total as the squares do: that is how they add.
    const parts = terms.map((term) => (squares ? (Math.min(total, top) * term.arcsec ** 2) / squares : 0));
    return { row, title: method.title, total, terms, parts };
  });
  const most = Math.max(...rows.map(({ terms }) => terms.length));
  const words = (row: number) => {
    const one = rows[row];
    if (!one) return "";
    return (
      <>
        <strong>
          {one.title}: {fixed(one.total, 2)}″
        </strong>
        {one.terms.map((term) => (
          <span key={term.name} className="term-line">
            {term.name} {fixed(term.arcsec, 2)}″, {term.words}
          </span>
        ))}
      </>
    );
  };
  return (
    <Chart
      name="error-bars"
      label="Error budget of each method against the pixel"
      height={told.length * ROW + 30}
      under={
        <figcaption className="quiet">
          RMS per axis; the parts of a bar share it as their squares add. Point at a bar, or walk with the
          arrow keys, for what it is made of.
        </figcaption>
      }
    >
      <BarChart layout="vertical" data={rows} margin={{ top: 4, right: 4, bottom: 0, left: 0 }} barSize={24}>
        <XAxis
          {...AXIS}
          type="number"
          domain={[0, top]}
          ticks={[scale / 2, scale]}
          tickFormatter={(at: number) => (at === scale ? "1 px" : "½ px")}
          interval={0}
          height={18}
        />
        <YAxis
          {...AXIS}
          type="category"
          dataKey="row"
          width={112}
          tickFormatter={(row: number) => `${rows[row]?.title}: ${fixed(rows[row]?.total, 2)}″`}
        />
        {[...Array(most)].map((_, i) => (
          <Bar
            key={i}
            dataKey={(row: (typeof rows)[number]) => row.parts[i] ?? 0}
            stackId="budget"
            fill={TONES[i % TONES.length]}
            stroke="var(--ink)"
            isAnimationActive={false}
          />
        ))}
        {[scale / 2, scale].map((at) => (
          <ReferenceLine key={at} x={at} stroke="var(--brass)" strokeDasharray="3 3" />
        ))}
        {said(words)}
      </BarChart>
    </Chart>
  );
}
