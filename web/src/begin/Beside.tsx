/** Several answers side by side, before any of them is taken. */
import { useQuery } from "@tanstack/react-query";
import { Button, Drawer } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import { api, dataAs, words } from "../api/client";
import type { Comparison, Designed } from "../api/types";
import { Heading, Line } from "../growth/Lines";
import { Mark } from "../kit/Mark";
import { fixed } from "../kit/quantity";
import { moneyOf } from "./wish";

interface Props {
  rigs: readonly Designed[];
  drop: (row: number) => void;
  currency: string;
}

export function Beside({ rigs, drop, currency }: Props) {
  const [open, setOpen] = useState(false);
  const answer = useQuery({
    queryKey: ["beside", rigs.map((one) => one.row), rigs.map((one) => one.name)],
    queryFn: () =>
      dataAs<Comparison>(
        api.POST("/api/v1/compare", { body: { entries: [], drafts: rigs.map((one) => one.rig) } }),
      ),
    enabled: open && rigs.length > 0,
  });
  if (rigs.length === 0) return null;
  const told = answer.data;
  return (
    <div className="beside" role="group" aria-label="Laid side by side">
      {rigs.map((one) => (
        <span key={one.row} className="beside-rig">
          {one.name}, {moneyOf(one.scores.money, currency)}
          <button type="button" aria-label={`Leave out the ${one.name}`} onClick={() => drop(one.row)}>
            ×
          </button>
        </span>
      ))}
      <Button size="small" disabled={rigs.length < 2} onClick={() => setOpen(true)}>
        {rigs.length < 2 ? "Choose another to compare" : `Compare these ${rigs.length}`}
      </Button>
      {open && (
        <Drawer open title="Side by side" onClose={() => setOpen(false)} size={860}>
          {answer.error && <p className="fault">{words(answer.error)}</p>}
          {told && (
            <div className="table-scroll" role="region" tabIndex={0} aria-label="Answers side by side">
              <table className="plain-table sides">
                <thead>
                  <tr>
                    <th scope="col">
                      <span className="visually-hidden">what</span>
                    </th>
                    {rigs.map((one) => (
                      <th key={one.row} scope="col">
                        {one.name}
                      </th>
                    ))}
                  </tr>
                </thead>
                <tbody>
                  <Line label="new money" cells={rigs.map((one) => moneyOf(one.scores.money, currency))} />
                  <Line label="carried" cells={rigs.map((one) => `${fixed(one.scores.mass_kg, 1)} kg`)} />
                  <Line
                    label="target-months framed well"
                    cells={rigs.map((one) => `${fixed(one.scores.fit * 100, 0)} %`)}
                  />
                  <Line label="ease, of ten" cells={rigs.map((one) => String(one.scores.ease))} />
                  {told.depth.map((row) => (
                    <Line key={row.title} label={row.title} cells={[...row.words]} />
                  ))}
                  <Heading words="Rules that differ" span={rigs.length} />
                  {told.rules
                    .filter((row) => row.differs)
                    .map((row) => (
                      <tr key={row.code}>
                        <th scope="row">
                          <Link to={`/rules/${row.code}`}>{row.code}</Link> {row.title}
                        </th>
                        {row.verdicts.map((verdict, i) => (
                          <td key={rigs[i]?.row}>
                            {verdict ? (
                              <>
                                <Mark verdict={verdict} size={12} /> {verdict}
                              </>
                            ) : (
                              "—"
                            )}
                          </td>
                        ))}
                      </tr>
                    ))}
                  <Heading words="Parts that differ" span={rigs.length} />
                  {told.parts
                    .filter((row) => row.differs)
                    .map((row) => (
                      <Line
                        key={`${row.kind} ${row.name}`}
                        label={row.name}
                        cells={row.words.map((cell) => cell || "—")}
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
