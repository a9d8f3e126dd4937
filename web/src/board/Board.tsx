import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { App, Button } from "antd";
import { lazy, Suspense, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { api, askAgain, data, dataAs, Refused, words } from "../api/client";
import type { Board as BoardAnswer, BoardRow, Rig, Target } from "../api/types";
import { useChosenNight } from "../app/night";
import { useChosenSite } from "../app/site";
import { Num } from "../kit/Calculated";
import { FileButton } from "../kit/FileButton";
import { Mark } from "../kit/Mark";
import { Pages } from "../kit/Pages";
import { fixed, hoursWords } from "../kit/quantity";
import { Says } from "../kit/Says";
import { counted, dayWords, inWords } from "../kit/words";
import { terms } from "../terms/board";
import { terms as common } from "../terms/common";
import { Phrase, phrase } from "../terms/phrase";
import { CellLight } from "./CellLight";
import { CellScore } from "./CellScore";
import { Damaged } from "./Damaged";
import { FieldCell } from "./FieldCell";
import { FieldLadder } from "./FieldLadder";
import { LeftOut } from "./LeftOut";
import { MonthStrip } from "./MonthStrip";
import "./board.module.css";

// What most visits do not need is fetched when it is.
const Begin = lazy(() => import("./Begin").then((m) => ({ default: m.Begin })));
const TargetSearch = lazy(() => import("../kit/TargetSearch").then((m) => ({ default: m.TargetSearch })));

/** Home: every rig against every target, true to scale. */
export function Board() {
  const { modal, notification } = App.useApp();
  const client = useQueryClient();
  const navigate = useNavigate();
  const [search, setSearch] = useSearchParams();
  const named = search.get("add"); // what was found in the sky, and is not on the Board yet
  const [asking, setAsking] = useState(false);
  const adding = asking || named !== null;
  const setAdding = (open: boolean) => {
    setAsking(open);
    if (!open && named !== null) setSearch({}, { replace: true });
  };
  const [remembered, setSite] = useChosenSite();
  const { night: chosenNight } = useChosenNight();
  const sites = useQuery({ queryKey: ["sites"], queryFn: () => data(api.GET("/api/v1/sites")) });
  // One that was put away since is no place to look from.
  const site = sites.data?.some((entry) => entry.id === remembered) ? remembered : null;
  const [from, setFrom] = useState({ rigs_from: 0, targets_from: 0 });
  const board = useQuery({
    queryKey: ["board", site, chosenNight, from],
    queryFn: ({ signal }) =>
      dataAs<BoardAnswer>(api.GET("/api/v1/board", { params: { query: { site, ...from } }, signal })),
    placeholderData: (before) => before,
    enabled: remembered === null || !sites.isPending,
  });
  const about = useQuery({
    queryKey: ["about"],
    queryFn: () => data(api.GET("/api/v1/about")),
    staleTime: 1e9,
  });
  const demo = useQuery({ queryKey: ["demo"], queryFn: () => data(api.GET("/api/v1/demo")) });
  async function removeDemo() {
    await data(api.DELETE("/api/v1/demo")).catch(fail);
    await client.invalidateQueries();
  }
  const refresh = () => askAgain(client, "board");
  const fail = (error: unknown) =>
    notification.error({ message: common.notDone, description: words(error), duration: 0 });

  const make = useMutation({
    mutationFn: (rig: Partial<Rig>) => {
      // A new rig stands where the Board looks from, or at the one place there is.
      const here =
        sites.data?.find((entry) => entry.id === site) ?? (sites.data?.length === 1 ? sites.data[0] : null);
      return data(api.POST("/api/v1/rigs", { body: { rig: { site: here?.body ?? null, ...rig } as never } }));
    },
    onSuccess: (kept) => {
      refresh();
      navigate(`/rigs/${kept.id}/optics`);
    },
    onError: fail,
  });
  const importRig = useMutation({
    mutationFn: async ({ file, leaveOut = false }: { file: File; leaveOut?: boolean }) => {
      const text = await file.text();
      const body = text as never;
      const params = { query: { unknown: leaveOut ? ("leave_out" as const) : ("refuse" as const) } };
      return data(api.POST("/api/v1/rigs/import", { params, body, bodySerializer: () => text }));
    },
    onSuccess: (kept) => {
      refresh();
      navigate(`/rigs/${kept.id}/optics`);
    },
    onError: (error, { file }) => {
      if (error instanceof Refused && error.kind === "/problems/unknown-fields")
        modal.confirm({
          title: terms.thisFileHoldsMoreThanThis,
          content: <LeftOut faults={error.faults} />,
          okText: terms.takeItWithoutThem,
          cancelText: terms.leaveTheFile,
          onOk: () => importRig.mutateAsync({ file, leaveOut: true }).catch(() => undefined),
        });
      else
        notification.error({ message: terms.thisFileWasNotImported, description: words(error), duration: 0 });
    },
  });
  const addTarget = useMutation({
    mutationFn: (target: Target) => data(api.POST("/api/v1/targets", { body: target })),
    onSuccess: () => {
      setAdding(false);
      refresh();
    },
    onError: fail,
  });

  async function removeTarget(target: Target) {
    const id = target.id ?? "";
    const path = { params: { path: { entry_id: id } } };
    await data(api.DELETE("/api/v1/targets/{entry_id}", path)).catch(fail);
    refresh();
    const key = `target-${id}`;
    const bringBack = async () => {
      await data(api.POST("/api/v1/targets/{entry_id}/restore", path)).catch(fail);
      notification.destroy(key);
      refresh();
    };
    notification.info({
      key,
      message: phrase(terms.targetTakenOffTheBoard, { target: target.name }),
      actions: <Button onClick={bringBack}>{terms.putItBack}</Button>,
    });
  }

  const lights = useQuery({ queryKey: ["log"], queryFn: () => data(api.GET("/api/v1/log/totals")) });
  const targets = board.data?.targets ?? [];
  const night = board.data?.night;
  const rows = board.data?.rows ?? [];
  return (
    <main className="board">
      <div className="board-head">
        <h1>{terms.board}</h1>
        <div data-testid="sky-tools" className="sky-tools">
          {(sites.data?.length ?? 0) > 0 && (
            <select
              aria-label={terms.site}
              value={site ?? sites.data?.[0]?.id}
              onChange={(event) => setSite(event.target.value)}
            >
              {sites.data?.map((entry) => (
                <option key={entry.id} value={entry.id}>
                  {entry.body.name}
                </option>
              ))}
            </select>
          )}
          <span className="quiet">
            {night ? (
              <>
                {dayWords(night.day)}: <Says text={night.words} of="NightFacts.words" />
              </>
            ) : (
              <Link to="/sky?new=site">{common.addASite}</Link>
            )}
          </span>
        </div>
        <div className="actions">
          {about.data?.demo && <Link to="/rigs/magpie/optics?tour=1">{terms.twoMinuteTour}</Link>}
          <Button onClick={() => setAdding(!adding)}>{common.addATarget}</Button>
          <FileButton
            words={terms.importARigFile}
            label={terms.rigFile}
            accept=".json,application/json"
            loading={importRig.isPending}
            onFile={(chosen) => importRig.mutate({ file: chosen })}
          />
          <Button
            disabled={make.isPending}
            onClick={() => make.mutate({ name: terms.cameraOnATripod, purposes: ["untracked"] })}
          >
            {terms.cameraOnATripod}
          </Button>
          <Button
            type="primary"
            onClick={() => make.mutate({ name: common.newRig })}
            loading={make.isPending}
          >
            {common.newRig}
          </Button>
        </div>
      </div>
      {adding && (
        <Suspense fallback={<p className="loading">{common.opening}</p>}>
          <TargetSearch
            key={named}
            label={terms.addATargetToTheBoard}
            begins={named ?? ""}
            onPick={(target) => addTarget.mutate(target)}
          />
        </Suspense>
      )}
      <Damaged />
      {board.error && (
        <p className="fault" role="alert">
          {words(board.error)} <Button onClick={() => board.refetch()}>{terms.tryAgain}</Button>
        </p>
      )}
      {board.data?.rigs_of === 0 && (
        <Suspense fallback={<p className="loading">{common.opening}</p>}>
          <Begin
            make={(rig) => make.mutate(rig)}
            importRig={(file) => importRig.mutate({ file })}
            making={make.isPending}
          />
        </Suspense>
      )}
      {!about.data?.demo && (demo.data?.rigs.length ?? 0) > 0 && (
        <p className="quiet">
          {terms.theDemoRigsAreHereTo}{" "}
          <button type="button" className="link" onClick={() => void removeDemo()}>
            {terms.takeThemOutAgain}
          </button>
        </p>
      )}
      {board.data?.targets_of === 0 && rows.length > 0 && (
        <p className="empty">{terms.noTargetOnTheBoardYet}</p>
      )}
      {board.data && (
        <div className="page-turners">
          <Pages
            what={common.rigs}
            from={from.rigs_from}
            most={board.data.rigs_most}
            of={board.data.rigs_of}
            go={(rigs_from) => setFrom({ ...from, rigs_from })}
          />
          <Pages
            what={common.targets}
            from={from.targets_from}
            most={board.data.targets_most}
            of={board.data.targets_of}
            go={(targets_from) => setFrom({ ...from, targets_from })}
          />
        </div>
      )}
      {rows.length > 0 && (
        <div className="board-scroll" role="region" aria-label={terms.rigsAndTargets} tabIndex={0}>
          <table className="board-table">
            <thead>
              <tr>
                <th scope="col" className="corner">
                  <span className="quiet">{terms.inEachCellShareOfThe}</span>
                </th>
                {targets.map((target, index) => (
                  <th key={target.id} scope="col">
                    <span className="target-name">{target.name}</span>
                    {board.data?.hours[index] !== undefined && (
                      <span className="target-hours num" title={terms.darkHoursAboveTheFloorFree}>
                        <Num of="BoardPage.hours">{hoursWords(board.data.hours[index])}</Num>
                      </span>
                    )}
                    <span className="quiet" data-figure="Target.major_arcmin">
                      {inWords(target)}
                    </span>
                    <button
                      type="button"
                      className="remove"
                      aria-label={phrase(terms.takeTargetOffTheBoard, { target: target.name })}
                      onClick={() => removeTarget(target)}
                    >
                      ×
                    </button>
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {rows.map((row) => (
                <tr key={row.rig_id}>
                  <th scope="row">
                    <RowHead row={row} />
                  </th>
                  {row.cells.map((cell, index) => (
                    <td key={cell.target_id} className="cell-box">
                      <FieldCell row={row} cell={cell} target={targets[index]} />
                      <CellLight rig={row.rig_id} target={cell.light} lights={lights.data?.targets} />
                      {cell.score != null && !row.dead && <CellScore row={row} cell={cell} site={site} />}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {rows.length > 0 && <FieldLadder rows={rows} targets={targets} />}
      {rows.length > 0 && (
        <MonthStrip site={site} rigs={rows.map((row) => `${row.rig_id}:${row.field?.join("×")}`).join(" ")} />
      )}
    </main>
  );
}

function RowHead({ row }: { row: BoardRow }) {
  return (
    <Link to={`/rigs/${row.rig_id}/optics`} data-testid="row-head" className="row-head">
      <span className="rig-name">
        <Mark verdict={row.verdict} /> {row.name}
      </span>
      <span className="quiet">{row.summary}</span>
      {row.field ? (
        <span className="quiet num">
          <Phrase
            of={terms.fieldField2FocalLengthMmMm}
            with={{
              field: (
                <Num of="BoardRow.field" still>
                  {fixed(row.field[0], 2)}
                </Num>
              ),
              field2: (
                <Num of="BoardRow.field" still>
                  {fixed(row.field[1], 2)}
                </Num>
              ),
              focal_length_mm: (
                <Num of="BoardRow.focal_length_mm" still>
                  {fixed(row.focal_length_mm, 0)}
                </Num>
              ),
            }}
          />
        </span>
      ) : (
        <span className="quiet">
          <Says text={row.missing} still />
        </span>
      )}
      {row.tally.problem + row.tally.warning > 0 && (
        <span className="quiet">
          {[counted(row.tally.problem, "problem"), counted(row.tally.warning, "warning")]
            .filter(Boolean)
            .join(", ")}
        </span>
      )}
    </Link>
  );
}
