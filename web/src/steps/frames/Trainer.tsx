/** The fault trainer: a frame of this rig with something hidden wrong, further measurements on demand, a decision, the truth. */

import { Button, Checkbox } from "antd";
import { useEffect, useState } from "react";
import { api, data, dataAs, words } from "../../api/client";
import type { DrillBook, DrillEvidence, DrillTruth, Rig } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { fixed } from "../../kit/quantity";
import { Says } from "../../kit/Says";
import { terms } from "../../terms/frames";
import { Phrase, phrase } from "../../terms/phrase";
import { StarMap, Unrolled } from "./StarMap";

type Ask = DrillEvidence["ask"];
type Fault = "spacing" | "camera_tilt" | "sag" | "guiding" | "wind" | "polar" | "focus" | "dew";
interface Drill {
  seed: number;
  count: 1 | 2;
}

const fresh = (count: 1 | 2): Drill => ({ seed: Math.floor(Math.random() * 2e9), count });

export function Trainer({ rig, leave }: { rig: Rig; leave: () => void }) {
  const [drill, setDrill] = useState<Drill>(() => fresh(1));
  const [book, setBook] = useState<DrillBook | null>(null);
  const [seen, setSeen] = useState<readonly DrillEvidence[]>([]);
  const [shown, setShown] = useState<Ask>("frame");
  const [waits, setWaits] = useState<Ask | null>(null);
  const [said, setSaid] = useState<readonly Fault[]>([]);
  const [truth, setTruth] = useState<DrillTruth | null>(null);
  const [fault, setFault] = useState("");
  useEffect(() => {
    dataAs<DrillBook>(api.GET("/api/v1/drills")).then(setBook, (error) => setFault(words(error)));
  }, []);
  const ask = async (wanted: Ask) => {
    setShown(wanted);
    if (seen.some((one) => one.ask === wanted)) return;
    setWaits(wanted);
    try {
      const got = await dataAs<DrillEvidence>(
        api.POST("/api/v1/drills/ask", { body: { rig, ...drill, ask: wanted } }),
      );
      setSeen((now) => [...now, got]);
      setFault("");
    } catch (error) {
      setFault(words(error));
    }
    setWaits(null);
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new drill begins with its first frame
  useEffect(() => void ask("frame"), [drill]);
  const next = (count: 1 | 2) => {
    setSeen([]);
    setSaid([]);
    setTruth(null);
    setDrill(fresh(count));
  };
  const decide = async () => {
    try {
      setTruth(
        await data(
          api.POST("/api/v1/drills/answer", {
            body: { rig, ...drill, said: [...said], asked: seen.length - 1 },
          }),
        ),
      );
      setFault("");
    } catch (error) {
      setFault(words(error));
    }
  };
  const score = truth?.score ?? book?.score;
  const now = seen.find((one) => one.ask === shown);
  return (
    <section className="trainer" data-testid="trainer">
      <div className="gear-line">
        <p>
          <Phrase
            of={terms.somethingIsWrongWithThisRig}
            with={{ which: drill.count === 2 ? terms.twoThingsAreHidden : terms.oneThingIsHidden }}
          />
        </p>
        <Button onClick={() => next(1)}>{terms.another}</Button>
        <Button onClick={() => next(2)}>{terms.twoAtOnce}</Button>
        <Button onClick={leave}>{terms.backToTheFrames}</Button>
      </div>
      {fault && (
        <p className="fault" role="alert">
          {fault}
        </p>
      )}
      <div className="proof-body">
        <div>
          {now?.reading && (
            <>
              <StarMap reading={now.reading} times={6} />
              <Unrolled reading={now.reading} times={6} />
              <p className="num">
                <Phrase
                  of={terms.titleFoundStarsFwhmPxPx}
                  with={{
                    title: now.title,
                    found: now.reading.found,
                    fwhm_px: <Num of="FrameReading.fwhm_px">{fixed(now.reading.fwhm_px, 2)}</Num>,
                    elongation: <Num of="FrameReading.elongation">{fixed(now.reading.elongation, 2)}</Num>,
                    worst_corner: (
                      <Num of="FieldShape.worst_corner">
                        {now.reading.field &&
                          fixed(now.reading.field.worst_corner / now.reading.field.middle_fwhm, 2)}
                      </Num>
                    ),
                  }}
                />
              </p>
            </>
          )}
          {now && !now.reading && (
            <ul className="plain-list drill-log">
              {now.lines.map((line) => (
                <li key={line.text}>
                  <Says text={line} />
                </li>
              ))}
            </ul>
          )}
          {waits && <p className="quiet">{terms.takingIt}</p>}
        </div>
        <div>
          <h2>{terms.askForOneMore}</h2>
          <div className="drill-asks" role="toolbar" aria-label={terms.measurements}>
            {book?.asks.map((one) => (
              <Button
                key={one.key}
                type={one.key === shown ? "primary" : "default"}
                disabled={waits !== null}
                onClick={() => void ask(one.key as Ask)}
              >
                {one.title}
                {seen.some((had) => had.ask === one.key) && one.key !== shown ? " ·" : ""}
              </Button>
            ))}
          </div>
          <h2>{drill.count === 2 ? terms.whichTwoAreIt : terms.whatIsIt}</h2>
          <div className="drill-faults">
            {book?.faults.map((one) => (
              <Checkbox
                key={one.key}
                checked={said.includes(one.key as Fault)}
                disabled={truth !== null}
                onChange={(event) =>
                  setSaid((had) => {
                    const rest = had.filter((key) => key !== one.key);
                    return event.target.checked
                      ? [...rest.slice(1 - drill.count), one.key as Fault].slice(-drill.count)
                      : rest;
                  })
                }
              >
                {one.title}
              </Checkbox>
            ))}
          </div>
          {!truth && (
            <Button type="primary" disabled={said.length === 0} onClick={() => void decide()}>
              {terms.decide}
            </Button>
          )}
          {truth && (
            <div className="drill-truth" role="status">
              <p>
                <Phrase
                  of={terms.whichHiddenAfterSeenMoreWhich2}
                  with={{
                    which: <strong>{truth.right ? terms.thatIsIt : terms.itWasSomethingElse}</strong>,
                    hidden: truth.hidden.join(" and "),
                    seen: seen.length - 1,
                    which2: seen.length === 2 ? terms.measurement : terms.measurements2,
                  }}
                />
              </p>
              {truth.tells.map((line) => (
                <p key={line}>{line}</p>
              ))}
            </div>
          )}
          {score && score.answered > 0 && (
            <p className="quiet" data-testid="drill-score">
              <Phrase
                of={terms.rightOfAnsweredFoundConfused}
                with={{
                  right: score.right,
                  answered: score.answered,
                  confused: score.confused
                    .map((one) =>
                      phrase(terms.hiddenTakenForSaidTimes, {
                        hidden: one.hidden,
                        said: one.said,
                        times: one.times,
                      }),
                    )
                    .join("; "),
                }}
              />
            </p>
          )}
        </div>
      </div>
    </section>
  );
}
