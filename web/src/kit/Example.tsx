/** The example of docs/pictures.md: a drawtube on its rule, racked out by hand or by keys. */
import { terms } from "../terms/kit";
import { phrase } from "../terms/phrase";
import { arrow, Plot, slider, useHand } from "./plot";
import { fixed } from "./quantity";

const WIDTH = 300;
const HEIGHT = 60;

interface Props {
  out_mm: number;
  travel_mm: number;
  /** What is shown while a hand moves it, and what is kept when it lets go. */
  show: (out_mm: number) => void;
  keep: (out_mm: number, note: string) => void;
}

export function Drawtube({ out_mm, travel_mm, show, keep }: Props) {
  const scale = WIDTH / travel_mm; // picture units to the millimetre
  const hand = useHand<{ out_mm: number }>({
    preview: (change) => show(change.out_mm),
    settle: (change, note) => keep(change.out_mm, note),
    giveUp: () => show(out_mm),
  });
  const within = (mm: number) => Math.min(travel_mm, Math.max(0, mm));
  return (
    <Plot
      hand={hand}
      width={WIDTH}
      height={HEIGHT}
      label={terms.drawtubeToScale}
      rest={terms.dragTheDrawtube}
    >
      <rect
        x={0}
        y={15}
        width={out_mm * scale}
        height={30}
        {...slider(
          "Drawtube",
          out_mm,
          [0, travel_mm],
          phrase(terms.outMmMmOut, { out_mm: fixed(out_mm, 1) }),
          {
            onPointerDown: hand.take({
              note: terms.drawtubeRacked,
              change: (from, to) => ({ out_mm: within(out_mm + (to.x - from.x) / scale) }),
            }),
            onKeyDown: (event) => {
              const by = arrow(event);
              if (!by) return;
              event.preventDefault();
              hand.nudge({ out_mm: within((hand.pending()?.out_mm ?? out_mm) + by.x) }, terms.drawtubeRacked);
            },
          },
        )}
      />
    </Plot>
  );
}
