/** The whole catalogue, searched by what objects are, how they stand on a night, and whether they fit a rig. */

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { App, Button, Checkbox, Select } from "antd";
import { useState } from "react";
import { api, askAgain, data, words } from "../api/client";
import type { SearchAnswer, SiteKept, Target, TargetKind } from "../api/types";
import { Num } from "../kit/Calculated";
import { NumberField } from "../kit/NumberField";
import { degrees, fixed, hours, hoursWords, share } from "../kit/quantity";
import { commonName, kindWords, targetSize } from "../kit/words";
import { terms as common } from "../terms/common";
import { Phrase, phrase } from "../terms/phrase";
import { terms } from "../terms/sky";
import { KINDS } from "./kinds";

const MONTHS = [...Array(12)].map((_, i) =>
  new Date(Date.UTC(2026, i, 15)).toLocaleString("en-GB", { month: "long", timeZone: "UTC" }),
);

interface Asked {
  kinds: TargetKind[];
  larger_arcmin: number | null;
  smaller_arcmin: number | null;
  brighter_mag: number | null;
  month: number | null;
  hours: number | null;
  altitude_deg: number | null;
  rig: string | null;
  fits: boolean;
}

const NOTHING: Asked = {
  kinds: [],
  larger_arcmin: null,
  smaller_arcmin: null,
  brighter_mag: null,
  month: null,
  hours: null,
  altitude_deg: null,
  rig: null,
  fits: false,
};

export function Catalogue({ site }: { site: SiteKept | undefined }) {
  const { notification } = App.useApp();
  const client = useQueryClient();
  const [asked, setAsked] = useState(NOTHING);
  const [most, setMost] = useState(60);
  const rigs = useQuery({ queryKey: ["rigs"], queryFn: () => data(api.GET("/api/v1/rigs")) });
  const ask = (part: Partial<Asked>) => setAsked({ ...asked, ...part });
  const answer = useQuery({
    queryKey: ["find", asked, most, site?.id, site?.version],
    queryFn: ({ signal }) =>
      data(
        api.POST("/api/v1/sky/objects", {
          signal,
          body: {
            wanted: {
              kinds: asked.kinds,
              larger_arcmin: asked.larger_arcmin,
              smaller_arcmin: asked.smaller_arcmin,
              brighter_mag: asked.brighter_mag,
              hours: asked.hours,
              altitude_deg: asked.altitude_deg,
              fits: asked.fits && asked.rig !== null,
            },
            site: site?.id ?? null,
            month: asked.month === null ? null : asked.month + 1,
            rig: asked.rig,
            most,
          },
        }),
      ) as Promise<SearchAnswer>,
    placeholderData: (before) => before,
  });

  async function keep(target: Target) {
    try {
      await data(api.POST("/api/v1/targets", { body: target }));
      await Promise.all([askAgain(client, "board"), askAgain(client, "targets"), askAgain(client, "years")]);
      notification.success({ message: phrase(terms.targetIsAmongYourTargets, { target: target.name }) });
    } catch (error) {
      notification.error({ message: terms.notAdded, description: words(error) });
    }
  }

  const number = (key: "larger_arcmin" | "smaller_arcmin" | "brighter_mag" | "hours" | "altitude_deg") => (
    <NumberField
      key={key}
      of={`SearchWanted.${key}`}
      value={asked[key]}
      onChange={(value) => ask({ [key]: value })}
    />
  );
  return (
    <section className="catalogue" aria-label={terms.catalogue}>
      <div className="find-filters">
        <label className="stacked">
          {terms.kinds}
          <Select
            mode="multiple"
            aria-label={terms.kinds}
            placeholder={common.everyKind}
            value={asked.kinds}
            options={KINDS.map((value) => ({ value, label: kindWords(value) }))}
            onChange={(kinds) => ask({ kinds })}
          />
        </label>
        {number("larger_arcmin")}
        {number("smaller_arcmin")}
        {number("brighter_mag")}
        <label className="stacked">
          {terms.season}
          <Select
            allowClear
            aria-label={terms.season}
            placeholder={common.tonight}
            disabled={!site}
            value={asked.month}
            options={MONTHS.map((label, value) => ({ value, label }))}
            onChange={(month) => ask({ month: month ?? null })}
          />
        </label>
        {number("hours")}
        {number("altitude_deg")}
        <label className="stacked">
          {common.rig2}
          <Select
            allowClear
            aria-label={terms.fitsTheRig}
            placeholder={terms.anyRig}
            value={asked.rig}
            options={(rigs.data ?? []).map((one) => ({ value: one.id, label: one.name }))}
            onChange={(rig) => ask({ rig: rig ?? null, fits: rig !== undefined })}
          />
        </label>
        <Checkbox
          checked={asked.fits}
          disabled={asked.rig === null}
          onChange={(event) => ask({ fits: event.target.checked })}
        >
          {terms.fitsIt}
        </Checkbox>
        <Button onClick={() => setAsked(NOTHING)}>{common.clear}</Button>
      </div>
      {answer.error && <p className="fault">{words(answer.error)}</p>}
      {answer.data && (
        <p className="quiet" role="status">
          <Phrase
            of={terms.totalObjectsFoundBodyMonths}
            with={{
              total: fixed(answer.data.total, 0),
              found:
                answer.data.total > answer.data.found.length &&
                phrase(terms.theFoundMostProminentShown, { found: answer.data.found.length }),
              body: site && phrase(terms.hoursAndAltitudesAtBody, { body: site.body.name }),
              MONTHS: asked.month !== null && phrase(terms.midMonths, { MONTHS: MONTHS[asked.month] }),
            }}
          />
        </p>
      )}
      <div className="table-scroll" tabIndex={0} role="region" aria-label={terms.objectsFound}>
        <table data-testid="plain-table" className="plain-table">
          <thead>
            <tr>
              <th scope="col">{terms.object}</th>
              <th scope="col">{terms.kind}</th>
              <th scope="col">{common.rightAscension}</th>
              <th scope="col">{terms.declination}</th>
              <th scope="col">{common.size}</th>
              <th scope="col">{terms.mag}</th>
              <th scope="col">{terms.usable}</th>
              <th scope="col">{terms.upTo}</th>
              <th scope="col">{terms.ofTheField}</th>
              <th scope="col">
                <span className="visually-hidden">{terms.keep}</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {answer.data?.found.map(({ target, hours: usable, best_altitude_deg: best, span }) => (
              <tr key={target.id}>
                <th scope="row">
                  {target.name} <span className="quiet">{commonName(target)}</span>
                </th>
                <td>{kindWords(target.kind)}</td>
                <td className="num">
                  <Num of="Target.ra_deg">{hours(target.ra_deg)}</Num>
                </td>
                <td className="num">
                  <Num of="Target.dec_deg">{degrees(target.dec_deg)}</Num>
                </td>
                <td className="num">{targetSize(target) || "—"}</td>
                <td className="num">
                  <Num of="Target.magnitude">{fixed(target.magnitude, 1)}</Num>
                </td>
                <td className="num">
                  <Num of="SearchFound.hours">{usable ? hoursWords(usable) : "—"}</Num>
                </td>
                <td className="num">
                  <Num of="SearchFound.best_altitude_deg">{best == null ? "—" : `${fixed(best, 0)}°`}</Num>
                </td>
                <td className="num">
                  <Num of="SearchFound.span">{span == null ? "—" : share(span)}</Num>
                </td>
                <td>
                  <Button
                    size="small"
                    onClick={() => void keep(target)}
                    aria-label={phrase(terms.keepTarget, { target: target.name })}
                  >
                    {common.keep}
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {answer.data?.total === 0 && <p className="quiet">{terms.nothingAnswersAllOfThisAsk}</p>}
      {answer.data && answer.data.total > answer.data.found.length && most < 500 && (
        <Button size="small" onClick={() => setMost(500)}>
          {terms.showMore}
        </Button>
      )}
    </section>
  );
}
