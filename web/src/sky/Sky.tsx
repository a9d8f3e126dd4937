/** Sites with their horizons, and what a night there is good for. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { App, Button } from "antd";
import { useState } from "react";
import { api, data, words } from "../api/client";
import type { Site, SiteKept } from "../api/types";
import { useQueuedEdits } from "../api/useQueuedEdits";
import { HorizonEditor } from "./HorizonEditor";
import { SiteForm } from "./SiteForm";
import { Targets } from "./Targets";
import { TonightList } from "./TonightList";

const NEW: Site = {
  name: "New site",
  latitude_deg: 0,
  longitude_deg: 0,
  elevation_m: 0,
  timezone: "UTC",
  horizon: [],
};

export default function Sky() {
  const { notification } = App.useApp();
  const client = useQueryClient();
  const sites = useQuery({ queryKey: ["sites"], queryFn: () => data(api.GET("/api/v1/sites")) });
  const [chosen, setChosen] = useState<string | null>(null);
  const [fault, setFault] = useState("");
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

  async function add() {
    try {
      const made = await data(api.POST("/api/v1/sites", { body: NEW }));
      await sites.refetch();
      setChosen(made.id);
    } catch (error) {
      setFault(words(error));
    }
  }

  async function putAway(kept: SiteKept) {
    const path = { params: { path: { entry_id: kept.id } } };
    await data(api.DELETE("/api/v1/sites/{entry_id}", path)).catch((error) => setFault(words(error)));
    await refresh();
    const key = `site-${kept.id}`;
    notification.info({
      key,
      message: `${kept.body.name} was put away; rigs keep their copy`,
      actions: (
        <Button
          onClick={async () => {
            await data(api.POST("/api/v1/sites/{entry_id}/restore", path));
            await refresh();
            notification.destroy(key);
          }}
        >
          Bring it back
        </Button>
      ),
    });
  }

  return (
    <main className="sky-page">
      <div className="board-head">
        <h1>Sky</h1>
        <div className="site-tabs" role="toolbar" aria-label="Sites">
          {sites.data?.map((one) => (
            <button
              type="button"
              key={one.id}
              aria-pressed={one.id === entry?.id}
              onClick={() => setChosen(one.id)}
            >
              {one.body.name}
            </button>
          ))}
        </div>
        <div className="actions">
          {entry && <Button onClick={() => void putAway(entry)}>Put this site away</Button>}
          <Button onClick={() => void add()}>Add a site</Button>
        </div>
      </div>
      {fault && (
        <p className="fault" role="alert">
          {fault}
        </p>
      )}
      {sites.data?.length === 0 && (
        <p className="empty">No site yet. Add the place you observe from; its horizon and darkness follow.</p>
      )}
      {entry && (
        <div className="sky-columns" key={entry.id}>
          <section>
            <SiteForm kept={entry} onChange={(part) => change(entry.id, part)} />
            <HorizonEditor site={entry.body} onChange={(horizon) => change(entry.id, { horizon })} />
          </section>
          <TonightList site={entry} />
        </div>
      )}
      <Targets />
    </main>
  );
}
