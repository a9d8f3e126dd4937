/** The rig as it was built beside its design: every figure that was measured, what drifted, focus over temperature. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Select } from "antd";
import { api, data, dataAs, words } from "../api/client";
import type { BuiltView, WorkedMarks } from "../api/types";
import { Mark } from "../kit/Mark";
import { Says } from "../kit/Says";
import { ChangeTold } from "../rig/ChangeTold";
import { terms as common } from "../terms/common";
import { terms } from "../terms/log";
import { Phrase, phrase } from "../terms/phrase";
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
    <section aria-label={terms.asBuilt} className="as-built">
      <div className="gear-line">
        <Select
          aria-label={terms.rigAsBuilt}
          value={rigId || null}
          options={(rigs.data ?? []).map((one) => ({ value: one.id, label: one.name }))}
          onChange={choose}
        />
        {built && (
          <>
            <span className="quiet num">
              {built.pinned == null
                ? phrase(terms.revisionRevisionNoneIsSaidTo, { revision: built.revision })
                : built.pinned === built.revision
                  ? phrase(terms.revisionPinnedStandsOutsideAndIs, { pinned: built.pinned })
                  : phrase(terms.revisionPinnedStandsOutsideTheNewest, {
                      pinned: built.pinned,
                      revision: built.revision,
                    })}
            </span>
            {built.pinned !== built.revision && (
              <Button onClick={() => pin.mutate(built.revision)} loading={pin.isPending}>
                <Phrase of={terms.revisionRevisionIsBuiltSo} with={{ revision: built.revision }} />
              </Button>
            )}
            {built.pinned != null && <Button onClick={() => pin.mutate(null)}>{terms.takeThePinOut}</Button>}
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
            <div className="table-scroll" role="region" tabIndex={0} aria-label={terms.designedAndMeasured}>
              <table className="plain-table" data-testid="built">
                <thead>
                  <tr>
                    <th scope="col">{common.figure}</th>
                    <th scope="col">{common.designed}</th>
                    <th scope="col">{common.measured}</th>
                    <th scope="col">{terms.howAndWhen}</th>
                    <th scope="col">{terms.drift}</th>
                  </tr>
                </thead>
                <tbody>
                  {built.rows.map((row) => (
                    <tr key={`${row.title.text} ${row.when}`}>
                      <th scope="row">
                        <Mark verdict={row.verdict} /> <Says text={row.title} />
                      </th>
                      <td className="num">{row.designed.text || "—"}</td>
                      <td className="num">
                        <Says text={row.measured} />
                      </td>
                      <td className="quiet num">{[row.how.text, row.when].filter(Boolean).join(", ")}</td>
                      <td className="num">{row.drift.text || "—"}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
            {built.rows.length === 0 && <p className="empty">{terms.nothingWasMeasuredOnThisRig}</p>}
            {marks.data?.focus.map((line) => (
              <FocusPlot key={line.unit} line={line} />
            ))}
          </div>
          <aside>
            <h2>{terms.whatToChangeNext}</h2>
            {built.changes.length === 0 ? (
              <p className="quiet">{terms.nothingThatWasMeasuredAsksFor}</p>
            ) : (
              <ol>
                {built.changes.map((one) => (
                  <li key={one.text}>
                    <Says text={one} />
                  </li>
                ))}
              </ol>
            )}
            {built.change && (
              <>
                <h2>{terms.whatTheNewestRevisionChangesOf}</h2>
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
