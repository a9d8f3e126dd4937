/** What to finish next: what is begun and open, by season and moon. */
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, data, words } from "../api/client";
import { useChosenNight } from "../app/night";
import { LightRing } from "../kit/LightRing";
import { Says } from "../kit/Says";
import { terms } from "../terms/log";

export function ToFinish() {
  const { night } = useChosenNight();
  const list = useQuery({
    queryKey: ["finish", night],
    queryFn: () => data(api.GET("/api/v1/log/finish")),
  });
  return (
    <aside className="to-finish" aria-label={terms.whatToFinishNext}>
      <h2>{terms.whatToFinishNext}</h2>
      {list.error && <p className="fault">{words(list.error)}</p>}
      {list.data?.length === 0 && <p className="empty">{terms.nothingIsOpenFrameATarget}</p>}
      <ol className="plain-list">
        {list.data?.map((one) => (
          <li key={`${one.rig_id} ${one.target}`}>
            <LightRing share={one.share} size={30} />
            <span>
              <Link to={`/rigs/${one.rig_id}/exposure?target=${encodeURIComponent(one.target)}`}>
                {one.name}
              </Link>{" "}
              <span className="quiet">{one.rig}</span>
              <br />
              <span className="quiet num">
                <Says text={one.words} />
              </span>
            </span>
          </li>
        ))}
      </ol>
    </aside>
  );
}
