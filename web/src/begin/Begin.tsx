/** Begin: from what one would like to photograph to whole rigs that work. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Popover, Progress } from "antd";
import { useEffect, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { api, data, dataAs, words } from "../api/client";
import type { Designed, DesignPoint, Rig, Sentence, Strip } from "../api/types";
import { Num } from "../kit/Calculated";
import { fixed, plain } from "../kit/quantity";
import { Says } from "../kit/Says";
import { LightStrip } from "../rig/LightStrip";
import { terms } from "../terms/begin";
import { terms as common } from "../terms/common";
import { Phrase, phrase } from "../terms/phrase";
import { Beside } from "./Beside";
import { Chosen } from "./Chosen";
import { isShown, Plane, UNBRUSHED } from "./Plane";
import { Questions } from "./Questions";
import { moneyOf, type RigRequest, useRequest } from "./request";
import { useDesign } from "./useDesign";
import "../rig/rig.module.css";
import "./begin.module.css";

const LISTED = 12;
const GUIDED = { none: "unguided", guide_scope: common.guideScope, off_axis: "off-axis" } as Record<
  string,
  string
>;
const nothing = () => undefined;

/** One rig of the answer, whole. */
function useDesigned(request: RigRequest, row: number | null, sure: boolean) {
  return useQuery({
    queryKey: ["designed", request, row],
    queryFn: () =>
      dataAs<Designed>(api.POST("/api/v1/design/rig", { body: { ...request, row: row ?? 0 } as never })),
    enabled: row !== null && sure,
    staleTime: 600_000,
    placeholderData: (before) => before,
  });
}

export default function Begin() {
  const [search] = useSearchParams();
  const [request, change] = useRequest(search.get("about"));
  const design = useDesign(request);
  const [picked, setPicked] = useState<number | null>(null);
  const [hovered, setHovered] = useState<number | null>(null);
  const [brushed, setBrushed] = useState(UNBRUSHED);
  const [beside, setBeside] = useState<readonly Designed[]>([]);
  const { points, sure, answer, of } = design;
  const currency = of.currency ?? "EUR";
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new request is a new plane
  useEffect(() => {
    setPicked(null);
    setBrushed(UNBRUSHED);
  }, [of]);
  const fastest = Math.max(0, ...points.map((point) => point.scores.speed));
  const shown = points.filter((point) => isShown(point, brushed, fastest));
  const row = picked ?? shown[0]?.row ?? points[0]?.row ?? answer?.nearest?.row ?? null;
  const chosen = useDesigned(of, row, sure);
  const glimpsed = useDesigned(of, hovered === row ? null : hovered, sure);
  const designed = chosen.data ?? (row === answer?.nearest?.row ? answer?.nearest : undefined);
  return (
    <main className="design">
      <div className="design-ask">
        <h1>{common.begin}</h1>
        <Questions request={request} change={change} />
      </div>
      <div className="design-plane">
        {design.fault && (
          <p className="fault" role="alert">
            {design.fault}
          </p>
        )}
        <Plane
          points={points}
          sure={sure}
          chosen={row}
          hovered={hovered}
          brushed={brushed}
          choose={setPicked}
          hover={setHovered}
          brush={setBrushed}
          currency={currency}
        />
        {hovered !== null && hovered !== row && glimpsed.data?.row === hovered && (
          <div className="glimpse" aria-hidden="true">
            <span>
              {glimpsed.data.name},{" "}
              <Num of="Scores.money">{moneyOf(glimpsed.data.scores.money, currency)}</Num>
            </span>
            <LightStrip
              slim
              strip={glimpsed.data.strip as Strip}
              chosen={null}
              onChoose={nothing}
              onMove={nothing}
            />
          </div>
        )}
        <div className="design-progress" role="status">
          {design.running ? (
            <>
              <Progress percent={Math.round(design.share * 100)} size="small" showInfo={false} />
              <span className="quiet">{design.words || terms.looking}</span>
              <Button size="small" onClick={design.stop}>
                {common.stop}
              </Button>
            </>
          ) : (
            <span className="quiet">
              {answer
                ? phrase(terms.combinationsCombinationsLookedAtPointsStand, {
                    combinations: fixed(answer.combinations, 0),
                    points: points.length,
                    points2: points.length,
                  })
                : design.words}{" "}
              {answer && (
                <Popover title={terms.howThisIsExact} trigger="click" content={<HowExact answer={answer} />}>
                  <button type="button" className="link">
                    {terms.howThisIsExact}
                  </button>
                </Popover>
              )}
            </span>
          )}
        </div>
        <Beside
          rigs={beside}
          drop={(gone) => setBeside(beside.filter((one) => one.row !== gone))}
          currency={currency}
        />
        <Reasons
          request={of}
          row={sure && points.length > 0 ? row : null}
          rows={answer?.rows ?? null}
          said={answer?.reasons ?? []}
          pick={setPicked}
        />
        {answer?.notes.map((note) => (
          <p key={note.text} className="quiet">
            <Says text={note} />
          </p>
        ))}
      </div>
      <div className="design-list">
        <FrontList
          points={shown}
          of={points.length}
          chosen={row}
          choose={setPicked}
          fastest={fastest}
          currency={currency}
        />
      </div>
      <div className="design-rig">
        {chosen.error && <p className="fault">{words(chosen.error)}</p>}
        {designed ? (
          <Chosen
            designed={designed}
            request={of}
            beside={beside}
            lay={(one) => setBeside([...beside.filter((other) => other.row !== one.row), one].slice(-4))}
          />
        ) : (
          <p className="empty">{design.running ? terms.theFirstRigShowsHereAs : terms.noRigToShowForThis}</p>
        )}
      </div>
    </main>
  );
}

interface ReasonsProps {
  request: RigRequest;
  row: number | null;
  rows: readonly number[] | null;
  said: readonly { key: string; title: Sentence; words: Sentence; row?: number | null; rig?: Rig | null }[];
  pick: (row: number) => void;
}

/** Why this one: what is said of the answer, and of the chosen rig. */
function Reasons({ request, row, rows, said, pick }: ReasonsProps) {
  const why = useQuery({
    queryKey: ["why", request, row],
    queryFn: () =>
      data(
        api.POST("/api/v1/design/why", {
          body: { ...request, row: row ?? 0, rows: [...(rows ?? [])] } as never,
        }),
      ),
    enabled: row !== null && rows !== null,
    staleTime: 600_000,
    placeholderData: (before) => before,
  });
  const all = [...said, ...(row === null ? [] : (why.data ?? []))];
  if (all.length === 0) return null;
  return (
    <ul className="design-why" aria-label={common.why}>
      {all.map((reason) => (
        <li key={`${reason.key} ${reason.title.text}`}>
          <strong>
            <Says text={reason.title} />
          </strong>{" "}
          <Says text={reason.words} />{" "}
          {reason.row != null && reason.row !== row && (
            <button type="button" className="link" onClick={() => pick(reason.row as number)}>
              {terms.showIt}
            </button>
          )}
          {reason.rig && <KeepRig rig={reason.rig} />}
        </li>
      ))}
    </ul>
  );
}

/** A rig that is had beside the front, kept in one press. */
function KeepRig({ rig }: { rig: Rig }) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const keep = useMutation({
    mutationFn: () => data(api.POST("/api/v1/rigs", { body: { rig } })),
    onSuccess: async (kept) => {
      await client.invalidateQueries();
      navigate(`/rigs/${kept.id}/optics`);
    },
  });
  return (
    <>
      <Button
        size="small"
        data-testid="keep-untracked"
        loading={keep.isPending}
        onClick={() => keep.mutate()}
      >
        {terms.addThisRig}
      </Button>
      {keep.error && <span className="fault">{words(keep.error)}</span>}
    </>
  );
}

interface ListProps {
  points: readonly DesignPoint[];
  of: number;
  chosen: number | null;
  choose: (row: number) => void;
  fastest: number;
  currency: string;
}

/** The front as a list, the most promising first. */
function FrontList({ points, of, chosen, choose, fastest, currency }: ListProps) {
  const [all, setAll] = useState(false);
  if (of === 0) return null;
  const listed = all ? points : points.slice(0, LISTED);
  return (
    <section className="front-list" aria-label={terms.theFrontAsAList}>
      <table className="plain-table">
        <thead>
          <tr>
            <th scope="col">{common.rig}</th>
            <th scope="col">{terms.money}</th>
            <th scope="col">{terms.kg}</th>
            <th scope="col">{terms.fit}</th>
            <th scope="col">{terms.speed}</th>
            <th scope="col">{terms.ease}</th>
          </tr>
        </thead>
        <tbody>
          {listed.map((point) => (
            <tr key={point.row} className={point.row === chosen ? "picked" : ""}>
              <th scope="row">
                <button
                  type="button"
                  className="link"
                  aria-pressed={point.row === chosen}
                  onClick={() => choose(point.row)}
                >
                  {point.name}
                </button>{" "}
                <span className="quiet">
                  {point.camera.split(",")[0]}, {GUIDED[point.guided]}
                  {point.warnings > 0 &&
                    `, ${point.warnings} ${point.warnings === 1 ? terms.warnings : terms.warning}`}
                </span>
              </th>
              <td className="num">
                <Num of="Scores.money">{moneyOf(point.scores.money, currency)}</Num>
              </td>
              <td className="num">
                <Num of="Scores.mass_kg">{fixed(point.scores.mass_kg, 1)}</Num>
              </td>
              <td className="num">
                <Num of="Scores.fit">{plain(point.scores.fit * 100, 0)}</Num>%
              </td>
              <td className="num">
                <Num of="Scores.speed">
                  {fastest > 0 ? plain((point.scores.speed / fastest) * 100, 0) : "—"}
                </Num>{" "}
                %
              </td>
              <td className="num">{point.scores.ease}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {points.length > LISTED && (
        <Button size="small" onClick={() => setAll(!all)}>
          {all ? terms.onlyTheMostPromising : phrase(terms.allPoints, { points: points.length })}
        </Button>
      )}
      {points.length < of && (
        <p className="quiet">
          <Phrase of={terms.ofofMoreLieOutsideWhatIs} with={{ ofOf: of - points.length }} />
        </p>
      )}
    </section>
  );
}

function HowExact({ answer }: { answer: NonNullable<ReturnType<typeof useDesign>["answer"]> }) {
  return (
    <div className="how-exact">
      <p>
        <Phrase
          of={terms.choicesTrainsToChooseFromTrains}
          with={{
            choices: fixed(answer.choices, 0),
            trains: fixed(answer.trains, 0),
            combinations: fixed(answer.combinations, 0),
            allowed: fixed(answer.allowed, 0),
          }}
        />
      </p>
      <p>
        <Phrase of={terms.ofThoseTheMostPromisingIs} with={{ judged: answer.judged }} />
      </p>
      <p>{terms.twoRigsWithinATwentiethOf}</p>
      {answer.ruled_out.length > 0 && (
        <p>
          <Phrase
            of={terms.putTogetherAndRuledOutRuled}
            with={{
              ruled_out: answer.ruled_out
                .map((one) =>
                  phrase(terms.countByCodeTitle, {
                    count: one.count,
                    code: one.code,
                    title: one.title.toLowerCase(),
                  }),
                )
                .join(", "),
            }}
          />
        </p>
      )}
    </div>
  );
}
