/** The log: nights over a month, what is open and what to finish next, light by target, the rig as it was built. */

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { lazy, Suspense, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { api, data, words } from "../api/client";
import { useChosenNight } from "../app/night";
import { Num } from "../kit/Calculated";
import { hoursWords } from "../kit/quantity";
import { counted } from "../kit/words";
import { terms as common } from "../terms/common";
import { terms } from "../terms/log";
import { Phrase, phrase } from "../terms/phrase";
import { FromFrames } from "./FromFrames";
import { Lights } from "./Lights";
import { Month } from "./Month";
import { Nights } from "./Nights";
import { OneNight } from "./OneNight";
import { ToFinish } from "./ToFinish";
import { TypeNight } from "./TypeNight";
import "./log.module.css";

const AsBuilt = lazy(() => import("./AsBuilt"));
const VIEWS = [
  ["nights", terms.nights],
  ["light", terms.lightByTarget],
  ["built", terms.asBuilt],
] as const;

export default function Log() {
  const [search, setSearch] = useSearchParams();
  const client = useQueryClient();
  const view = search.get("view") ?? "nights";
  const open = search.get("session");
  const [typing, setTyping] = useState<string | null>(null);
  const [month, setMonth] = useState<string | null>(null);
  const { night } = useChosenNight();
  const go = (change: Record<string, string | null>) => {
    const next = new URLSearchParams(search);
    for (const [key, value] of Object.entries(change))
      value === null ? next.delete(key) : next.set(key, value);
    setSearch(next, { replace: true });
  };
  const totals = useQuery({ queryKey: ["log"], queryFn: () => data(api.GET("/api/v1/log/totals")) });
  const nights = useQuery({
    queryKey: ["month", month, night],
    queryFn: () => data(api.GET("/api/v1/log/month", { params: { query: { month: month ?? undefined } } })),
    placeholderData: (before) => before,
  });
  const refresh = () =>
    Promise.all(
      ["log", "month", "sessions", "finish", "marks", "built", "board"].map((key) =>
        client.invalidateQueries({ queryKey: [key] }),
      ),
    );
  const sums = totals.data;
  return (
    <main className="board log-page">
      <div className="board-head">
        <h1>{common.log}</h1>
        {sums && (
          <p className="quiet num" data-testid="log-sum">
            <Num of="LogTotals.light_s">
              {sums.nights === 0
                ? terms.noLightIsLoggedYet
                : phrase(terms.lightSOfLightKeptIn, {
                    light_s: hoursWords(sums.light_s / 3600),
                    nights: counted(sums.nights, "night"),
                  })}
            </Num>
          </p>
        )}
        <div className="way-choice" role="toolbar" aria-label={terms.viewOfTheLog}>
          {VIEWS.map(([key, title]) => (
            <button
              key={key}
              type="button"
              aria-pressed={view === key}
              onClick={() => go({ view: key, session: null })}
            >
              {title}
            </button>
          ))}
        </div>
        <div className="actions">
          <Link to="/backups">{common.backupsAndExport}</Link>
          <FromFrames done={refresh} open={(session) => go({ session, view: "nights" })} />
          <Button
            type="primary"
            onClick={() => setTyping(typing === null ? (nights.data?.today ?? "") : null)}
          >
            {terms.typeANight}
          </Button>
        </div>
      </div>
      {totals.error && (
        <p className="fault" role="alert">
          {words(totals.error)}
        </p>
      )}
      {typing !== null && (
        <TypeNight
          key={typing}
          night={typing}
          done={async (session) => {
            setTyping(null);
            await refresh();
            go({ session, view: "nights" });
          }}
          close={() => setTyping(null)}
        />
      )}
      {view === "nights" && (
        <div className="log-body">
          <div>
            {open && (
              <OneNight id={open} close={() => go({ session: null, marks: null })} changed={refresh} />
            )}
            {nights.data && <Month month={nights.data} go={setMonth} type={setTyping} />}
            {nights.error && <p className="fault">{words(nights.error)}</p>}
            {nights.data === null && (
              <p className="empty">
                <Phrase
                  of={terms.aMonthOfNightsNeedsA}
                  with={{ link: <Link to="/sky?new=site">{common.addASite}</Link> }}
                />
              </p>
            )}
            <Nights open={(session) => go({ session })} chosen={open} />
          </div>
          <ToFinish />
        </div>
      )}
      {view === "light" && sums && <Lights lights={sums.lights} />}
      {view === "built" && (
        <Suspense fallback={<p className="loading">{common.opening}</p>}>
          <AsBuilt rig={search.get("rig")} choose={(rig) => go({ rig })} />
        </Suspense>
      )}
    </main>
  );
}
