/** Sites with their horizons, and what a night there is good for. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { api, data, words } from "../api/client";
import type { Site, SiteKept } from "../api/types";
import { usePutAway } from "../api/usePutAway";
import { useQueuedEdits } from "../api/useQueuedEdits";
import { useChosenSite } from "../app/site";
import { KeptTabs } from "../kit/KeptTabs";
import { terms as common } from "../terms/common";
import { terms } from "../terms/sky";
import { Catalogue } from "./Catalogue";
import { NewSite } from "./NewSite";
import { SiteForm } from "./SiteForm";
import { SiteHorizon } from "./SiteHorizon";
import { Targets } from "./Targets";
import { TonightList } from "./TonightList";
import "./sky.module.css";

export default function Sky() {
  const putAway = usePutAway();
  const client = useQueryClient();
  const sites = useQuery({ queryKey: ["sites"], queryFn: () => data(api.GET("/api/v1/sites")) });
  const [chosen, setChosen] = useChosenSite();
  const [search, setSearch] = useSearchParams();
  const adding = search.get("new") === "site";
  const ask = (now: boolean) => setSearch(now ? { new: "site" } : {}, { replace: true });
  const [fault, setFault] = useState("");
  const [list, setList] = useState<"own" | "all">("own");
  const entry = sites.data?.find((one) => one.id === chosen) ?? sites.data?.[0];
  const refresh = async () => {
    await client.invalidateQueries();
  };

  const change = useQueuedEdits<Site>(
    "sites",
    (id, base, body) =>
      data(api.PUT("/api/v1/sites/{entry_id}", { params: { path: { entry_id: id } }, body: { base, body } })),
    (error) => setFault(error === null ? "" : words(error)),
  );

  async function takeAway(kept: SiteKept) {
    const path = { params: { path: { entry_id: kept.id } } };
    await putAway({
      key: `site-${kept.id}`,
      name: kept.body.name,
      more: terms.rigsThatStandThereKeepTheir,
      remove: () => data(api.DELETE("/api/v1/sites/{entry_id}", path)),
      restore: () => data(api.POST("/api/v1/sites/{entry_id}/restore", path)),
      refresh,
    });
  }

  return (
    <main className="sky-page">
      <div className="board-head">
        <h1>{terms.sky}</h1>
        <KeptTabs label={terms.sites} entries={sites.data} chosen={entry?.id} choose={setChosen} />
        <div className="actions">
          {entry && <Button onClick={() => void takeAway(entry)}>{terms.putThisSiteAway}</Button>}
          <Button onClick={() => ask(true)}>{common.addASite}</Button>
        </div>
      </div>
      {fault && (
        <p className="fault" role="alert">
          {fault}
        </p>
      )}
      {sites.data?.length === 0 && (
        <p className="empty">
          {terms.noSiteYetAddThePlace}{" "}
          <Button type="primary" onClick={() => ask(true)}>
            {common.addASite}
          </Button>
        </p>
      )}
      {adding && <NewSite close={() => ask(false)} made={(kept) => setChosen(kept.id)} />}
      {entry && (
        <div className="sky-columns" key={entry.id}>
          <section>
            <SiteHorizon kept={entry} onChange={(horizon) => change(entry.id, { horizon })} />
            <SiteForm kept={entry} onChange={(part) => change(entry.id, part)} />
          </section>
          <TonightList site={entry} />
        </div>
      )}
      <div className="site-tabs list-tabs" role="toolbar" aria-label={terms.whichTargets}>
        <button type="button" aria-pressed={list === "own"} onClick={() => setList("own")}>
          {terms.yourTargets}
        </button>
        <button type="button" aria-pressed={list === "all"} onClick={() => setList("all")}>
          {terms.theWholeCatalogue}
        </button>
      </div>
      {list === "own" ? <Targets site={entry} /> : <Catalogue site={entry} />}
    </main>
  );
}
