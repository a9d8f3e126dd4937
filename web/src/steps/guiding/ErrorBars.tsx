/** Terms of each budget stacked in squares, as they add, against half a pixel and a whole one. */

import { useState } from "react";
import { Bar, BarChart, ReferenceLine, XAxis, YAxis } from "recharts";
import type { GuidingView } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { AXIS, Chart, keyed, said } from "../../kit/chart";
import { fixed, share } from "../../kit/quantity";
import { Says } from "../../kit/Says";
import { terms } from "../../terms/guiding";
import { Phrase, phrase } from "../../terms/phrase";

const TONES = [
  "color-mix(in srgb, var(--glass) 60%, var(--panel))",
  "color-mix(in srgb, var(--ok) 60%, var(--panel))",
  "color-mix(in srgb, var(--warning) 60%, var(--panel))",
  "color-mix(in srgb, var(--quiet) 60%, var(--panel))",
  "color-mix(in srgb, var(--brass) 60%, var(--panel))",
];
const ROW = 56;

export function ErrorBars({ view }: { view: GuidingView }) {
  const [chosen, setChosen] = useState<string | null>(null);
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
    return { row, method, title: method.title, total, squares, terms, parts };
  });
  const most = Math.max(...rows.map(({ terms }) => terms.length));
  const now = rows.find(({ method }) => method.now) ?? rows[0];
  const shown = rows.find(({ method }) => method.method === chosen) ?? now;
  const words = (row: number) => {
    const one = rows[row];
    return one
      ? phrase(terms.titleTotalRmsTermsTerms, {
          title: one.title.text,
          total: fixed(one.total, 2),
          terms: one.terms.length,
        })
      : "";
  };
  return (
    <Chart
      name="error-bars"
      label={terms.errorBudgetOfEachMethodAgainst}
      height={told.length * ROW + 30}
      under={
        shown && (
          <figcaption>
            <table className="plain-table terms-of" data-testid="terms-of">
              <caption>
                <Phrase of={terms.titleWhatItsErrorIsMade} with={{ title: <Says text={shown.title} /> }} />
              </caption>
              <tbody>
                {shown.terms.map((term, i) => (
                  <tr key={term.name.text} title={term.words.text}>
                    <th scope="row">
                      <svg className="swatch" viewBox="0 0 10 10" aria-hidden="true">
                        <rect width="10" height="10" fill={TONES[i % TONES.length]} />
                      </svg>{" "}
                      <Says text={term.name} />{" "}
                      <span className="quiet">
                        <Says text={term.words} />
                      </span>
                    </th>
                    <td className="num">
                      <Num of="GuidingTerm.arcsec">{fixed(term.arcsec, 2)}</Num>″
                    </td>
                    <td className="num">
                      <Num of="GuideMethod.rms_arcsec">
                        {share(shown.squares ? term.arcsec ** 2 / shown.squares : 0)}
                      </Num>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
            <p className="quiet">{terms.rmsPerAxisTermsAddIn}</p>
          </figcaption>
        )
      }
    >
      <BarChart
        layout="vertical"
        data={rows}
        onClick={({ activeLabel }) => setChosen(rows[Number(activeLabel)]?.method.method ?? null)}
        margin={{ top: 4, right: 4, bottom: 0, left: 0 }}
        barSize={24}
      >
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
          tick={{ ...AXIS.tick, ...keyed("GuideMethod.rms_arcsec") }}
          tickFormatter={(row: number) => `${rows[row]?.title?.text}: ${fixed(rows[row]?.total, 2)}″`}
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
