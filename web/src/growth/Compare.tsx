/** Rigs or revisions side by side: differences first. */

import { useQuery } from "@tanstack/react-query";
import { Button, Select } from "antd";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { api, data, dataAs, words } from "../api/client";
import type { Comparison, RigListed } from "../api/types";
import { Num } from "../kit/Calculated";
import { WorkedLater, Working } from "../kit/FigureValue";
import { Mark, VERDICT_WORDS } from "../kit/Mark";
import { fixed, format } from "../kit/quantity";
import { Says } from "../kit/Says";
import { usePreferencesUnits } from "../preferences/usePreferences";
import { terms as common } from "../terms/common";
import { terms } from "../terms/growth";
import { Phrase, phrase } from "../terms/phrase";
import { Heading, Line } from "./Lines";
import { moneyWords } from "./money";
import "./growth.module.css";

/** An entry is "heron" or "heron@3": a rig at its newest revision, or at one of its revisions. */
const parse = (entry: string) => {
  const [rig = "", revision] = entry.split("@");
  return { rig, revision: revision ? Number(revision) : null };
};

export default function Compare() {
  const [search, setSearch] = useSearchParams();
  const units = usePreferencesUnits();
  const rigs = useQuery({ queryKey: ["rigs"], queryFn: () => data(api.GET("/api/v1/rigs")) });
  const [all, setAll] = useState(false);
  const named = search.get("rigs");
  const chosen = named
    ? named.split(",").filter(Boolean)
    : (rigs.data ?? []).slice(0, 4).map((rig) => rig.id);
  const choose = (next: string[]) => setSearch({ rigs: next.join(",") }, { replace: true });
  const answer = useQuery({
    queryKey: ["compare", chosen, rigs.data?.map((rig) => rig.revision)],
    queryFn: () =>
      dataAs<Comparison>(api.POST("/api/v1/compare", { body: { entries: chosen.map(parse), drafts: [] } })),
    enabled: chosen.length > 0,
    placeholderData: (before) => before,
  });
  const compared = answer.data;
  const shown = <T extends { differs: boolean }>(rows: readonly T[]) =>
    rows.filter((row) => all || row.differs);
  // Of one rig's revisions its parts are the news; of different rigs they come last.
  const oneRig = new Set(chosen.map((entry) => parse(entry).rig)).size === 1;
  const parts = compared && (
    <>
      <Heading words={terms.parts} span={compared.sides.length} />
      {shown(compared.parts).map((row) => (
        <tr key={`${row.kind} ${row.name}`} data-testid="compared-part">
          <th scope="row">{row.name}</th>
          {row.words.map((told, i) => (
            <td key={chosen[i]}>{told.text ? <Says text={told} of="ComparedPart.words" /> : "—"}</td>
          ))}
        </tr>
      ))}
      {shown(compared.parts).length === 0 && (
        <tr>
          <td colSpan={compared.sides.length + 1} className="quiet">
            {terms.theSamePartsSetAlike}
          </td>
        </tr>
      )}
    </>
  );
  return (
    <main className="compare">
      <div className="board-head">
        <h1>{common.compare}</h1>
        <Select
          mode="multiple"
          aria-label={terms.rigsToCompare}
          placeholder={terms.whichRigs}
          style={{ minWidth: 340 }}
          maxCount={20}
          value={chosen}
          options={[
            ...(rigs.data ?? []).map((rig) => ({ value: rig.id, label: rig.name })),
            ...chosen
              .filter((entry) => entry.includes("@"))
              .map((entry) => ({
                value: entry,
                label: phrase(terms.rigRevisionRevision, {
                  rig: parse(entry).rig,
                  revision: parse(entry).revision,
                }),
              })),
          ]}
          onChange={choose}
        />
        <Revisions
          rigs={rigs.data ?? []}
          onPick={(entry) => !chosen.includes(entry) && choose([...chosen, entry])}
        />
        <div className="actions">
          <Button onClick={() => setAll(!all)}>{all ? terms.onlyWhatDiffers : terms.showAllRows}</Button>
        </div>
      </div>
      {answer.error && <p className="fault">{words(answer.error)}</p>}
      {chosen.length === 0 && <p className="empty">{terms.chooseTwoRigsOrMoreOr}</p>}
      {compared && chosen.length > 0 && (
        <div className="table-scroll" role="region" tabIndex={0} aria-label={terms.rigsSideBySide}>
          <table data-testid="sides" className="plain-table sides">
            <thead>
              <tr>
                <th scope="col">
                  <span className="visually-hidden">{common.what}</span>
                </th>
                {compared.sides.map((side, i) => (
                  <th key={chosen[i]} scope="col">
                    <Link to={`/rigs/${parse(chosen[i] ?? "").rig}/optics`}>
                      <Mark verdict={side.verdict} size={12} /> {side.label}
                    </Link>
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              <Line
                label={terms.problemsWarnings}
                cells={compared.sides.map((s) => `${s.tally.problem}, ${s.tally.warning}`)}
              />
              <Line
                label={terms.massAllOfIt}
                cells={compared.sides.map((s) => (
                  <Num key={s.label} of="ComparedRig.mass_kg">
                    {`${s.unweighed > 0 ? "≥ " : ""}${format(s.mass_kg, "kg", 1, units).join(" ")}`}
                  </Num>
                ))}
              />
              <Line
                label={terms.cost}
                cells={compared.sides.map((s) => (
                  <Num key={s.label} of="ComparedRig.cost">
                    {moneyWords(s.cost)}
                  </Num>
                ))}
              />
              {compared.depth.map((row) => (
                <Line
                  key={row.title.text}
                  label={row.title.text}
                  cells={row.words.map((one, i) => <Says key={`${i}-${one.text}`} text={one} />)}
                />
              ))}
              {oneRig && parts}
              <Heading words={common.ruleBook} span={compared.sides.length} />
              {shown(compared.rules).map((row) => (
                <tr key={row.code}>
                  <th scope="row">
                    <Link to={`/rules/${row.code}`}>{row.code}</Link> {row.title}
                  </th>
                  {row.verdicts.map((verdict, i) => (
                    <td key={chosen[i]}>
                      {verdict ? (
                        <>
                          <Mark verdict={verdict} size={12} /> {VERDICT_WORDS[verdict]}
                        </>
                      ) : (
                        "—"
                      )}
                    </td>
                  ))}
                </tr>
              ))}
              <Heading words={common.targets2} span={compared.sides.length} />
              {compared.targets.map((row) => (
                <tr key={row.name}>
                  <th scope="row">{row.name}</th>
                  {row.words.map((told, i) => {
                    const verdict = row.verdicts[i];
                    const score = row.scores[i];
                    return (
                      <td key={chosen[i]} className="num">
                        {verdict && <Mark verdict={verdict} size={12} />}{" "}
                        {told.text ? <Says text={told} of="ComparedTarget.words" /> : "—"}
                        {score != null && (
                          <span className="quiet">
                            {" "}
                            <Phrase
                              of={terms.scoreScore}
                              with={{ score: <Num of="ComparedTarget.scores">{fixed(score, 0)}</Num> }}
                            />
                          </span>
                        )}
                      </td>
                    );
                  })}
                </tr>
              ))}
              <Heading words={terms.figures} span={compared.sides.length} />
              {shown(compared.figures).map((row) => (
                <tr key={row.key}>
                  <th scope="row">{row.title}</th>
                  {row.values.map((value, i) => (
                    <td key={chosen[i]} className="num">
                      {value == null ? (
                        "—"
                      ) : (
                        <WorkedLater
                          title={row.title}
                          content={<FigureOf entry={parse(chosen[i] ?? "")} figure={row.key} />}
                        >
                          <Num of={row.key} still>
                            {format(value, row.unit, row.decimals, units).join(" ")}
                          </Num>
                        </WorkedLater>
                      )}
                    </td>
                  ))}
                </tr>
              ))}
              {!oneRig && parts}
            </tbody>
          </table>
        </div>
      )}
      <p className="quiet">
        <Phrase
          of={terms.hoursAreAgainstTheFirstRig}
          with={{ source: <span data-figure="ComparedDepth.source">{compared?.depth[0]?.source}</span> }}
        />
      </p>
    </main>
  );
}

/** The working of one figure of a rig, at the revision that is compared. */
function FigureOf({ entry, figure }: { entry: { rig: string; revision?: number | null }; figure: string }) {
  const answer = useQuery({
    queryKey: ["figure", entry.rig, entry.revision ?? null, figure],
    queryFn: () =>
      data(
        api.GET("/api/v1/rigs/{rig_id}/figures/{key}", {
          params: { path: { rig_id: entry.rig, key: figure }, query: { revision: entry.revision } },
        }),
      ),
  });
  if (answer.data) return <Working figure={answer.data} />;
  return <p className={answer.error ? "fault" : "loading"}>{answer.error ? words(answer.error) : "…"}</p>;
}

/** Adds an earlier revision of a rig. */
function Revisions({ rigs, onPick }: { rigs: RigListed[]; onPick: (entry: string) => void }) {
  const [rigId, setRigId] = useState<string | null>(null);
  const revisions = useQuery({
    queryKey: ["revisions", rigId],
    queryFn: () =>
      data(api.GET("/api/v1/rigs/{rig_id}/revisions", { params: { path: { rig_id: rigId ?? "" } } })),
    enabled: rigId !== null,
  });
  return (
    <>
      <Select
        size="small"
        aria-label={terms.revisionsOf}
        placeholder={terms.revisionsOf2}
        style={{ width: 140 }}
        value={rigId}
        options={rigs.map((rig) => ({ value: rig.id, label: rig.name }))}
        onChange={setRigId}
      />
      {rigId && (
        <Select
          size="small"
          aria-label={terms.revision}
          placeholder={terms.whichOne}
          style={{ width: 200 }}
          value={null}
          options={(revisions.data ?? []).map((row) => ({
            value: `${rigId}@${row.number}`,
            label: `${row.number}: ${row.note || terms.saved}`,
          }))}
          onChange={(entry: string | null) => entry && onPick(entry)}
        />
      )}
    </>
  );
}
