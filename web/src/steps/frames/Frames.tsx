/** The Proof step: frames dropped here are measured and held against this rig; the star map, and why it is as it is. */

import { Button, Slider } from "antd";
import { type DragEvent, Fragment, useEffect, useRef, useState } from "react";
import { api, data, dataAs } from "../../api/client";
import type { FrameShown, FramesView } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { Mark } from "../../kit/Mark";
import { NumberField } from "../../kit/NumberField";
import { arrow } from "../../kit/plot";
import { fixed } from "../../kit/quantity";
import { Says } from "../../kit/Says";
import { useDrawn } from "../../rig/useDrawn";
import { terms as common } from "../../terms/common";
import { terms } from "../../terms/frames";
import { Phrase, phrase } from "../../terms/phrase";
import type { StepProps } from "../step";
import { GuideLog } from "./GuideLog";
import { Sets } from "./Sets";
import { StarMap, Unrolled } from "./StarMap";
import { Trainer } from "./Trainer";
import { useFrames } from "./useFrames";
import "./frames.module.css";

export default function Frames({ rigId, rig, commit, patch, judgeAgain }: StepProps) {
  const [trains, setTrains] = useState(false);
  const [again, setAgain] = useState(0);
  const [chosen, setChosen] = useState("");
  const [times, setTimes] = useState(4);
  const [over, setOver] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const { view, fault } = useDrawn(
    rig,
    (given) => dataAs<FramesView>(api.POST("/api/v1/frames", { body: { rig: given, rig_id: rigId } })),
    again,
  );
  const changed = () => {
    setAgain((now) => now + 1);
    judgeAgain();
  };
  const { coming, take, stop, forget } = useFrames(rigId, changed);
  const frames = view?.frames ?? [];
  const frame = frames.find((one) => one.id === chosen) ?? frames[frames.length - 1];
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    void take([...event.dataTransfer.files]);
  };
  const away = async (id: string) => {
    await data(
      api.POST("/api/v1/frames/{frame_id}/away", {
        params: { path: { frame_id: id } },
        body: { away: true },
      }),
    );
    changed();
  };
  const taken = async (id: string, body: FrameShown["reading"]["taken"]) => {
    await data(api.POST("/api/v1/frames/{frame_id}/taken", { params: { path: { frame_id: id } }, body }));
    changed();
  };
  if (trains) return <Trainer rig={rig} leave={() => setTrains(false)} />;
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: files can be dropped anywhere on the step; the button does the same by hand
    <div
      className={`proof-step ${over ? "dropping" : ""}`}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
    >
      <div className="gear-line">
        <Button onClick={() => file.current?.click()}>{terms.measureFrames}</Button>
        <input
          ref={file}
          type="file"
          multiple
          hidden
          accept=".fits,.fit,.fts,.fz"
          aria-label={terms.framesInFits}
          onChange={(event) => {
            void take([...(event.target.files ?? [])]);
            event.target.value = "";
          }}
        />
        <Button onClick={() => setTrains(true)}>{terms.trainOnAHiddenFault}</Button>
        <p className="quiet">{terms.lightFramesInFitsOrDrop}</p>
      </div>
      {fault && <p className="fault">{fault}</p>}
      {coming.some((one) => !one.failed) && <Button onClick={() => void stop()}>{common.stop}</Button>}
      <ul className="plain-list" data-testid="coming">
        {coming.map((one) => (
          <li key={one.key} className={one.failed ? "fault" : "quiet"}>
            {one.name}: {one.words}
            {one.failed && (
              <Button size="small" type="text" onClick={() => forget(one.key)}>
                {terms.putAside}
              </Button>
            )}
          </li>
        ))}
      </ul>
      {frames.length > 0 && (
        <div className="frame-strip" role="toolbar" aria-label={terms.frames} data-testid="frames">
          {frames.map((one) => (
            <button
              key={one.id}
              type="button"
              aria-pressed={one === frame}
              onClick={() => setChosen(one.id)}
              onKeyDown={(event) => {
                const by = arrow(event)?.x;
                if (!by) return;
                event.preventDefault();
                const next = frames[frames.indexOf(one) + Math.sign(by)];
                if (!next) return;
                setChosen(next.id);
                const row = event.currentTarget;
                const beside = by > 0 ? row.nextElementSibling : row.previousElementSibling;
                if (beside instanceof HTMLElement) beside.focus();
              }}
            >
              <Small frame={one} />
              <span className="num">
                <Num of="FrameReading.fwhm_px" still>
                  {one.reading.fwhm_px == null ? terms.noStars : `${fixed(one.reading.fwhm_px, 2)} px`}
                </Num>
              </span>
              <span className="quiet">{one.reading.name}</span>
            </button>
          ))}
        </div>
      )}
      {view && frames.length === 0 && coming.length === 0 && (
        <p className="empty">{terms.noFrameOfThisRigWas}</p>
      )}
      {frame && (
        <div className="proof-body">
          <div>
            <StarMap reading={frame.reading} times={times} lines={frame.proof.lines} />
            <Unrolled reading={frame.reading} times={times} />
            <div className="map-times">
              <span className="quiet">
                <Phrase of={terms.elongationDrawnTimesTimesLarger} with={{ times }} />
              </span>
              <Slider
                min={1}
                max={12}
                value={times}
                onChange={setTimes}
                ariaLabelForHandle={terms.howMuchLargerElongationIsDrawn}
              />
            </div>
            {frame.reading.notes.map((note) => (
              <p key={note} className="quiet">
                {note}
              </p>
            ))}
            {frame.reading.claims.simulated && <p className="quiet">{terms.aSimulatedFrameItsHeaderSays}</p>}
            {view?.together.map((line) => (
              <p key={line.text}>
                <Says text={line} />
              </p>
            ))}
          </div>
          <div>
            <Causes frame={frame} />
            <Held frame={frame} />
            <Taken frame={frame} tell={(body) => void taken(frame.id, body)} />
            <div className="button-row">
              {frame.proof.measured_focal_mm != null && (
                <Button
                  onClick={() => {
                    const value = frame.proof.measured_focal_mm;
                    if (value == null) return;
                    const instrument = phrase(terms.plateSolutionOfReading, {
                      reading: frame.reading.name,
                    }).slice(0, 80);
                    commit(
                      (now) => ({
                        ...now,
                        measured_focal_length_mm: { value, instrument, at_mm: frame.proof.measured_at_mm },
                      }),
                      terms.focalLengthAsMeasured,
                    );
                  }}
                >
                  <Phrase
                    of={terms.takeMeasuredFocalMmMmAs}
                    with={{
                      measured_focal_mm: (
                        <Num of="FrameProof.measured_focal_mm" still>
                          {fixed(frame.proof.measured_focal_mm, 1)}
                        </Num>
                      ),
                    }}
                  />
                </Button>
              )}
              <Button onClick={() => void away(frame.id)}>{terms.putThisFrameAway}</Button>
            </div>
          </div>
        </div>
      )}
      {view && <Sets view={view} patch={patch} />}
      <GuideLog rig={rig} commit={commit} />
    </div>
  );
}

function Causes({ frame }: { frame: FrameShown }) {
  return (
    <section data-testid="causes">
      <h2>
        <Says text={frame.proof.words} />
      </h2>
      <ol className="causes">
        {frame.proof.causes.map((cause) => (
          <li key={cause.key}>
            <strong>
              <Says text={cause.title} />
            </strong>{" "}
            <span className="num quiet">
              <Phrase
                of={terms.scoreItsLimit}
                with={{ score: <Num of="FrameCause.score">{fixed(cause.score, 1)}</Num> }}
              />
            </span>
            <p>
              <Says text={cause.says} />
            </p>
            <ul className="plain-list">
              {cause.speaks_for.map((words) => (
                <li key={words.text}>
                  <Phrase of={terms.speaksForItWords} with={{ words: <Says text={words} /> }} />
                </li>
              ))}
              {cause.speaks_against.map((words) => (
                <li key={words.text} className="quiet">
                  <Phrase of={terms.speaksAgainstItWords} with={{ words: <Says text={words} /> }} />
                </li>
              ))}
            </ul>
            <p>
              <span className="quiet">{terms.tellItApart}</span> <Says text={cause.test} />
            </p>
            <p>
              <span className="quiet">{terms.next}</span> <Says text={cause.change} />
            </p>
          </li>
        ))}
      </ol>
    </section>
  );
}

/** How the rig stood as the frame was taken: what makes of several frames a sweep or a series. */
function Taken({ frame, tell }: { frame: FrameShown; tell: (body: FrameShown["reading"]["taken"]) => void }) {
  const { taken, solution, unsolved } = frame.reading;
  const choice = frame.proof.focus;
  return (
    <>
      {solution && (
        <p className="quiet">
          <Phrase
            of={terms.solvedByItsOwnStarsMatched}
            with={{
              matched: solution.matched,
              miss_px: <Num of="Solution.miss_px">{fixed(solution.miss_px, 2)}</Num>,
              rotation_deg: <Num of="Solution.rotation_deg">{fixed(solution.rotation_deg, 1)}</Num>,
            }}
          />
        </p>
      )}
      {unsolved && (
        <p className="quiet">
          <Phrase of={terms.notSolvedUnsolved} with={{ unsolved }} />
        </p>
      )}
      {choice && (
        <p data-testid="focus-choice">
          <Phrase
            of={terms.theFieldCurvesFocusedInThe}
            with={{
              middle: <Num of="FocusChoice.middle">{fixed(choice.middle[0], 2)}</Num>,
              middle2: <Num of="FocusChoice.middle">{fixed(choice.middle[1], 2)}</Num>,
              two_thirds: <Num of="FocusChoice.two_thirds">{fixed(choice.two_thirds[0], 2)}</Num>,
              two_thirds2: <Num of="FocusChoice.two_thirds">{fixed(choice.two_thirds[1], 2)}</Num>,
            }}
          />
        </p>
      )}
      <div className="gear-line" data-testid="taken">
        <NumberField
          key={`spacing ${frame.id}`}
          of="TakenAt.spacing_mm"
          value={taken?.spacing_mm ?? null}
          onChange={(spacing_mm) => tell({ focus: taken?.focus ?? null, spacing_mm })}
        />
        <NumberField
          key={`focus ${frame.id}`}
          of="TakenAt.focus"
          value={taken?.focus ?? null}
          onChange={(focus) => tell({ spacing_mm: taken?.spacing_mm ?? null, focus })}
        />
        <p className="quiet">{terms.threeSpacingsMakeASeriesFive}</p>
      </div>
    </>
  );
}

function Held({ frame }: { frame: FrameShown }) {
  return (
    <table className="plain-table" data-testid="designed">
      <thead>
        <tr>
          <th scope="col">{common.figure}</th>
          <th scope="col">{common.designed}</th>
          <th scope="col">{common.measured}</th>
        </tr>
      </thead>
      <tbody>
        {frame.proof.held.map((row) => (
          <Fragment key={row.title.text}>
            <tr>
              <th scope="row">
                <Mark verdict={row.verdict} size={12} /> <Says text={row.title} />
              </th>
              <td className="num">
                <Says text={row.designed} />
              </td>
              <td className="num">
                <Says text={row.measured} />
              </td>
            </tr>
            {row.words.text && (
              <tr className="held-words">
                <td colSpan={3} className="quiet">
                  <Says text={row.words} />
                </td>
              </tr>
            )}
          </Fragment>
        ))}
      </tbody>
    </table>
  );
}

/** The frame in small, in the theme's own light. */
function Small({ frame }: { frame: FrameShown }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { picture, picture_width: wide, picture_height: tall } = frame.reading;
  useEffect(() => {
    const context = canvas.current?.getContext("2d");
    if (!context) return;
    const tone = getComputedStyle(document.documentElement).getPropertyValue("--pixel-lit").trim();
    const [r, g, b] = [1, 3, 5].map((at) => Number.parseInt(tone.slice(at, at + 2), 16));
    const bytes = atob(picture);
    const image = context.createImageData(wide, tall);
    for (let i = 0; i < bytes.length; i++) {
      const share = bytes.charCodeAt(i) / 255;
      image.data.set([(r ?? 255) * share, (g ?? 255) * share, (b ?? 255) * share, 255], 4 * i);
    }
    context.putImageData(image, 0, 0);
  }, [picture, wide, tall]);
  return <canvas ref={canvas} width={wide} height={tall} />;
}
