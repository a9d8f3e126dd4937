/** The rig as it was built beside its design: every figure that was measured, what drifted, focus over temperature. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Select } from "antd";
import { api, data, dataAs, words } from "../api/client";
import type { BuiltView, WorkedMarks } from "../api/types";
import { Mark } from "../kit/Mark";
import { ChangeTold } from "../rig/ChangeTold";
import { FocusPlot } from "./FocusPlot";
import { Worked } from "./Worked";

export default function AsBuilt({ rig, choose }: { rig: string | null; choose: (rig: string) => void }) {
  const client = useQueryClient();
  const rigs = useQuery({ queryKey: ["rigs"], queryFn: () => data(api.GET("/api/v1/rigs")) });
  const rigId = rig ?? rigs.data?.[0]?.id ?? "";
  const path = { params: { path: { rig_id: rigId } } };
  const view = useQuery({
    queryKey: ["built", rigId],
    enabled: rigId !== "",
    queryFn: () => dataAs<BuiltView>(api.GET("/api/v1/log/as-built/{rig_id}", path)),
  });
  const marks = useQuery({
    queryKey: ["marks", rigId],
    enabled: rigId !== "",
    queryFn: () => dataAs<WorkedMarks>(api.GET("/api/v1/log/marks/{rig_id}", path)),
  });
  const pin = useMutation({
    mutationFn: (revision: number | null) =>
      data(api.PUT("/api/v1/log/as-built/{rig_id}", { ...path, body: { revision } })),
    onSuccess: () => client.invalidateQueries({ queryKey: ["built"] }),
  });
  const built = view.data;
  return (
    <section aria-label="As built" className="as-built">
      <div className="gear-line">
        <Select
          aria-label="Rig as built"
          value={rigId || null}
          options={(rigs.data ?? []).map((one) => ({ value: one.id, label: one.name }))}
          onChange={choose}
        />
        {built && (
          <>
            <span className="quiet num">
              {built.pinned == null
                ? `Revision ${built.revision}; none is said to stand outside.`
                : built.pinned === built.revision
                  ? `Revision ${built.pinned} stands outside, and is the newest.`
                  : `Revision ${built.pinned} stands outside; the newest is ${built.revision}.`}
            </span>
            {built.pinned !== built.revision && (
              <Button onClick={() => pin.mutate(built.revision)} loading={pin.isPending}>
                Revision {built.revision} is built so
              </Button>
            )}
            {built.pinned != null && <Button onClick={() => pin.mutate(null)}>Take the pin out</Button>}
          </>
        )}
      </div>
      {[view.error, marks.error, pin.error].map(
        (error) =>
          error && (
            <p key={words(error)} className="fault">
              {words(error)}
            </p>
          ),
      )}
      {built && (
        <div className="built-body">
          <div>
            <div className="table-scroll" role="region" tabIndex={0} aria-label="Designed and measured">
              <table className="plain-table" data-testid="built">
                <thead>
                  <tr>
                    <th scope="col">figure</th>
                    <th scope="col">designed</th>
                    <th scope="col">measured</th>
                    <th scope="col">how and when</th>
                    <th scope="col">drift</th>
                  </tr>
                </thead>
                <tbody>
                  {built.rows.map((row) => (
                    <tr key={`${row.title} ${row.when}`}>
                      <th scope="row">
                        <Mark verdict={row.verdict} /> {row.title}
                      </th>
                      <td className="num">{row.designed || "—"}</td>
                      <td className="num">{row.measured}</td>
                      <td className="quiet num">{[row.how, row.when].filter(Boolean).join(", ")}</td>
                      <td className="num">{row.drift || "—"}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
            {built.rows.length === 0 && (
              <p className="empty">
                Nothing was measured on this rig yet: callipers on Spacing, scales on Load, frames on Proof,
                marks in a night’s log.
              </p>
            )}
            {marks.data?.focus.map((line) => (
              <FocusPlot key={line.unit} line={line} />
            ))}
          </div>
          <aside>
            <h2>What to change next</h2>
            {built.changes.length === 0 ? (
              <p className="quiet">Nothing that was measured asks for a change.</p>
            ) : (
              <ol>
                {built.changes.map((one) => (
                  <li key={one}>{one}</li>
                ))}
              </ol>
            )}
            {built.change && (
              <>
                <h2>What the newest revision changes of what stands outside</h2>
                <ChangeTold change={built.change} />
              </>
            )}
            {marks.data && <Worked rigId={rigId} revision={built.revision} marks={marks.data} />}
          </aside>
        </div>
      )}
    </section>
  );
}
