/** Several answers side by side, before any of them is taken. */

import { useQuery } from "@tanstack/react-query";
import { Button, Drawer, Select } from "antd";
import { type ReactNode, useState } from "react";
import { Link } from "react-router";
import { api, data, dataAs, words } from "../api/client";
import type { Comparison, Designed } from "../api/types";
import { Heading, Line } from "../growth/Lines";
import { Num } from "../kit/Calculated";
import { Mark, VERDICT_WORDS } from "../kit/Mark";
import { fixed, share } from "../kit/quantity";
import { Says } from "../kit/Says";
import { terms } from "../terms/begin";
import { terms as common } from "../terms/common";
import { phrase } from "../terms/phrase";
import { moneyOf } from "./request";

interface Props {
  rigs: readonly Designed[];
  drop: (row: number) => void;
  currency: string;
}

export function Beside({ rigs, drop, currency }: Props) {
  const [open, setOpen] = useState(false);
  const [own, setOwn] = useState<string[]>([]);
  const kept = useQuery({
    queryKey: ["rigs"],
    queryFn: () => data(api.GET("/api/v1/rigs")),
    enabled: rigs.length > 0,
  });
  const answer = useQuery({
    queryKey: ["beside", own, rigs.map((one) => one.row), rigs.map((one) => one.name)],
    queryFn: () =>
      dataAs<Comparison>(
        api.POST("/api/v1/compare", {
          body: { entries: own.map((rig) => ({ rig })), drafts: rigs.map((one) => one.rig) },
        }),
      ),
    enabled: open && rigs.length > 0,
  });
  if (rigs.length === 0) return null;
  const told = answer.data;
  const many = rigs.length + own.length;
  // Rigs of one's own come first; what a design counts is not known of them.
  const beside = (cells: ReactNode[]) => [...own.map(() => "—"), ...cells];
  return (
    <div className="beside" role="group" aria-label={terms.laidBeside}>
      {rigs.map((one) => (
        <span key={one.row} className="beside-rig">
          {one.name}, <Num of="Scores.money">{moneyOf(one.scores.money, currency)}</Num>
          <button
            type="button"
            aria-label={phrase(terms.leaveOutTheName, { name: one.name })}
            onClick={() => drop(one.row)}
          >
            ×
          </button>
        </span>
      ))}
      {(kept.data?.length ?? 0) > 0 && (
        <Select
          mode="multiple"
          size="small"
          aria-label={terms.rigsOfYoursBesideThem}
          placeholder={terms.andARigOfYours}
          style={{ minWidth: 150 }}
          maxCount={4}
          value={own}
          options={(kept.data ?? []).map((rig) => ({ value: rig.id, label: rig.name }))}
          onChange={setOwn}
        />
      )}
      <Button size="small" disabled={many < 2} onClick={() => setOpen(true)}>
        {many < 2 ? terms.chooseAnotherToCompare : phrase(terms.compareTheseMany, { many })}
      </Button>
      {open && (
        <Drawer open title={terms.sideBySide} onClose={() => setOpen(false)} size={860}>
          {answer.error && <p className="fault">{words(answer.error)}</p>}
          {told && (
            <div className="table-scroll" role="region" tabIndex={0} aria-label={terms.answersSideBySide}>
              <table className="plain-table sides">
                <thead>
                  <tr>
                    <th scope="col">
                      <span className="visually-hidden">{common.what}</span>
                    </th>
                    {told.sides.map((side, i) => (
                      <th key={own[i] ?? rigs[i - own.length]?.row} scope="col">
                        {side.label}
                      </th>
                    ))}
                  </tr>
                </thead>
                <tbody>
                  <Line
                    label={terms.newMoney}
                    cells={beside(
                      rigs.map((one) => (
                        <Num key={one.row} of="Scores.money">
                          {moneyOf(one.scores.money, currency)}
                        </Num>
                      )),
                    )}
                  />
                  <Line
                    label={common.carried}
                    cells={told.sides.map((side) => (
                      <Num key={side.label} of="ComparedRig.mass_kg">{`${fixed(side.mass_kg, 1)} kg`}</Num>
                    ))}
                  />
                  <Line
                    label={terms.targetMonthsFramedWell}
                    cells={beside(
                      rigs.map((one) => (
                        <Num key={one.row} of="Scores.fit">
                          {share(one.scores.fit)}
                        </Num>
                      )),
                    )}
                  />
                  <Line label={terms.easeOfTen} cells={beside(rigs.map((one) => String(one.scores.ease)))} />
                  {told.depth.map((row) => (
                    <Line
                      key={row.title.text}
                      label={row.title.text}
                      cells={row.words.map((one, i) => <Says key={`${i}-${one.text}`} text={one} />)}
                    />
                  ))}
                  <Heading words={terms.rulesThatDiffer} span={many} />
                  {told.rules
                    .filter((row) => row.differs)
                    .map((row) => (
                      <tr key={row.code}>
                        <th scope="row">
                          <Link to={`/rules/${row.code}`}>{row.code}</Link> {row.title}
                        </th>
                        {row.verdicts.map((verdict, i) => (
                          <td key={own[i] ?? rigs[i - own.length]?.row}>
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
                  <Heading words={terms.partsThatDiffer} span={many} />
                  {told.parts
                    .filter((row) => row.differs)
                    .map((row) => (
                      <Line
                        key={`${row.kind} ${row.name}`}
                        label={row.name}
                        cells={row.words.map((cell) => cell.text || "—")}
                      />
                    ))}
                </tbody>
              </table>
            </div>
          )}
        </Drawer>
      )}
    </div>
  );
}
