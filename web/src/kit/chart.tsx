/** Ordinary curves: a charting library in the product's tones, with what is pointed at said in words. */
import { type ReactElement, type ReactNode, useEffect } from "react";
import { ResponsiveContainer, Tooltip, useActiveTooltipLabel } from "recharts";
import "./chart.module.css";

/** Words on a curve. */
export const WORDS = { fill: "var(--quiet)" } as const;
/** How an axis is drawn; what it measures comes from the chart. */
export const AXIS = { stroke: "var(--line)", tickLine: false, tick: { fill: "var(--quiet)" } } as const;
/** What leads a label or the ticks of an axis to their calculation. */
export const keyed = (of: string): object => ({ "data-figure": of });

interface Props {
  name: string;
  label: string;
  height: number;
  className?: string;
  /** A chart of the library. */
  children: ReactElement;
  under?: ReactNode;
}

export function Chart({ name, label, height, className = "", children, under }: Props) {
  return (
    <figure data-testid={name} className={`chart ${className}`} aria-label={label}>
      <ResponsiveContainer width="100%" height={height}>
        {children}
      </ResponsiveContainer>
      {under}
    </figure>
  );
}

/** What a chart says of the place pointed at, or walked to with the arrow keys. */
export function said(words: (label: number) => ReactNode) {
  return (
    <Tooltip
      isAnimationActive={false}
      cursor={{ stroke: "var(--quiet)", fill: "var(--quiet)", fillOpacity: 0.15 }}
      content={({ active, label }) =>
        active && label !== undefined ? (
          <p role="status" className="chart-says num">
            {words(Number(label))}
          </p>
        ) : null
      }
    />
  );
}

/** Tells which place of a chart is pointed at, so that Enter can choose it. */
export function Active({ tell }: { tell: (label: number | null) => void }) {
  const label = useActiveTooltipLabel();
  useEffect(() => tell(label === undefined ? null : Number(label)), [label, tell]);
  return null;
}
