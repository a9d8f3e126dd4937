/** The night and the year of a target at the rig's site: when it stands free and dark, and in which weeks. */
import { useState } from "react";
import { words } from "../../api/client";
import type { Framing, Rig } from "../../api/types";
import { NightChoice } from "../../app/NightChoice";
import { fixed, hoursWords } from "../../kit/quantity";
import { SiteOfRig } from "../../rig/SiteOfRig";
import { NewSite } from "../../sky/NewSite";
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
      night ? `${target.name} planned for ${night}` : `${target.name} for tonight`,
    );
  const tiles = (framing.columns ?? 1) * (framing.rows ?? 1);
  const seen = answer.data?.night;
  return (
    <section className="night-strip" aria-label="Night and year">
      <div className="night-head">
        <div className="night-choice" role="toolbar" aria-label="Night or year">
          <button type="button" aria-pressed={shown === "night"} onClick={() => setShown("night")}>
            Night
          </button>
          <button type="button" aria-pressed={shown === "year"} onClick={() => setShown("year")}>
            Year
          </button>
        </div>
        <SiteOfRig rig={rig} commit={commit} small />
        <NightChoice label="Planned for the night of" night={planned ?? null} choose={plan} small />
        <span className="exports">
          <a className="link" href={`/api/v1/rigs/${rigId}/framings/${index}/tiles.csv`} download>
            {tiles > 1 ? "Centres, CSV" : "Centre, CSV"}
          </a>
          <a className="link" href={`/api/v1/rigs/${rigId}/framings/${index}/wcs.fits`} download>
            {tiles > 1 ? "FITS headers" : "FITS header"}
          </a>
          <HopCard rigId={rigId} index={index} />
        </span>
      </div>
      {site == null && (
        <p className="quiet">
          The rig stands at no site yet: choose one, or{" "}
          <button type="button" className="plain-button link" onClick={() => setAdding(true)}>
            say where you observe from
          </button>
          .
        </p>
      )}
      {adding && (
        <NewSite
          close={() => setAdding(false)}
          made={({ body }) => commit((now) => ({ ...now, site: body }), `at ${body.name}`)}
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
            <strong>{hoursWords(seen.usable_h)}</strong> dark and free above {fixed(seen.floor_deg, 0)}°
            {seen.rises && `, ${seen.rises}`} ·{" "}
            {seen.best && seen.best_altitude != null
              ? `highest ${fixed(seen.best_altitude, 0)}° at ${seen.best.clock}`
              : `${fixed(seen.transit_altitude, 0)}° at ${seen.transit.clock}`}
            {seen.flip && `, ${seen.flip}`}
            {seen.moon_separation != null && ` · moon ${fixed(seen.moon_separation, 0)}° off at least`} ·{" "}
            {answer.data.year.words}
            <br />
            {seen.facts.words}
          </p>
        </>
      )}
    </section>
  );
}
