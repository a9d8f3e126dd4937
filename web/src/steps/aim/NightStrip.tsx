/** The night and the year of a target at the rig's site: when it stands free and dark, and in which weeks. */

import { useState } from "react";
import { words } from "../../api/client";
import type { Framing, Rig } from "../../api/types";
import { NightChoice } from "../../app/NightChoice";
import { Num } from "../../kit/Calculated";
import { fixed, hoursWords } from "../../kit/quantity";
import { Says } from "../../kit/Says";
import { SiteOfRig } from "../../rig/SiteOfRig";
import { NewSite } from "../../sky/NewSite";
import { terms } from "../../terms/aim";
import { Phrase, phrase } from "../../terms/phrase";
import { HopCard } from "./HopCard";
import { NightPicture } from "./NightPicture";
import { useNight } from "./useNight";
import { YearPicture } from "./YearPicture";

interface Props {
  rigId: string;
  rig: Rig;
  index: number;
  framing: Framing;
  commit: (change: (rig: Rig) => Rig, note: string) => void;
}

export function NightStrip({ rigId, rig, index, framing, commit }: Props) {
  const [shown, setShown] = useState<"night" | "year">("night");
  const [adding, setAdding] = useState(false);
  const { site } = rig;
  const { target, night: planned } = framing;
  const answer = useNight(rig, framing);
  const plan = (night: string | null) =>
    commit(
      (now) => ({
        ...now,
        framings: (now.framings ?? []).map((entry, i) => (i === index ? { ...entry, night } : entry)),
      }),
      night
        ? phrase(terms.targetPlannedForNight, { target: target.name, night })
        : phrase(terms.targetForTonight, { target: target.name }),
    );
  const tiles = (framing.columns ?? 1) * (framing.rows ?? 1);
  const seen = answer.data?.night;
  return (
    <section className="night-strip" aria-label={terms.nightAndYear}>
      <div className="night-head">
        <div className="night-choice" role="toolbar" aria-label={terms.nightOrYear}>
          <button type="button" aria-pressed={shown === "night"} onClick={() => setShown("night")}>
            {terms.night}
          </button>
          <button type="button" aria-pressed={shown === "year"} onClick={() => setShown("year")}>
            {terms.year}
          </button>
        </div>
        <SiteOfRig rig={rig} commit={commit} small />
        <NightChoice label={terms.plannedForTheNightOf} night={planned ?? null} choose={plan} small />
        <span className="exports">
          <a className="link" href={`/api/v1/rigs/${rigId}/framings/${index}/tiles.csv`} download>
            {tiles > 1 ? terms.centresCsv : terms.centreCsv}
          </a>
          <a className="link" href={`/api/v1/rigs/${rigId}/framings/${index}/wcs.fits`} download>
            {tiles > 1 ? terms.fitsHeaders : terms.fitsHeader}
          </a>
          <HopCard rigId={rigId} index={index} />
        </span>
      </div>
      {site == null && (
        <p className="quiet">
          {terms.theRigStandsAtNoSite}{" "}
          <button type="button" className="plain-button link" onClick={() => setAdding(true)}>
            {terms.sayWhereYouObserveFrom}
          </button>
          {"."}
        </p>
      )}
      {adding && (
        <NewSite
          close={() => setAdding(false)}
          made={({ body }) =>
            commit((now) => ({ ...now, site: body }), phrase(terms.atBody, { body: body.name }))
          }
        />
      )}
      {answer.error && <p className="fault">{words(answer.error)}</p>}
      {answer.data && seen && (
        <>
          {shown === "night" ? (
            <NightPicture night={seen} />
          ) : (
            <YearPicture year={answer.data.year} onPick={plan} />
          )}
          <p data-testid="night-words" className="night-words num">
            <Phrase
              of={terms.usableHDarkAndFreeAbove}
              with={{
                usable_h: (
                  <strong>
                    <Num of="NightCurve.usable_h">{hoursWords(seen.usable_h)}</Num>
                  </strong>
                ),
                floor_deg: <Num of="NightCurve.floor_deg">{fixed(seen.floor_deg, 0)}</Num>,
                rises: seen.rises && `, ${seen.rises}`,
                best_altitude: (
                  <Num of="NightCurve.best_altitude">
                    {seen.best && seen.best_altitude != null
                      ? phrase(terms.highestBestAltitudeAtClock, {
                          best_altitude: fixed(seen.best_altitude, 0),
                          clock: seen.best.clock,
                        })
                      : phrase(terms.transitAltitudeAtClock, {
                          transit_altitude: fixed(seen.transit_altitude, 0),
                          clock: seen.transit.clock,
                        })}
                  </Num>
                ),
                flip: seen.flip && `, ${seen.flip}`,
                moon_separation: (
                  <Num of="NightCurve.moon_separation">
                    {seen.moon_separation != null &&
                      phrase(terms.moonMoonSeparationOffAtLeast, {
                        moon_separation: fixed(seen.moon_separation, 0),
                      })}
                  </Num>
                ),
                year: <Says text={answer.data.year.words} />,
              }}
            />
            <br />
            <Says text={seen.facts.words} />
          </p>
        </>
      )}
    </section>
  );
}
