import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { useState } from "react";
import { api, data, words } from "../api/client";
import type { Site } from "../api/types";
import { QuantityInput } from "../drawing/QuantityInput";

const NEW: Site = { name: "New site", latitude_deg: 0, longitude_deg: 0, elevation_m: 0, timezone: "UTC" };

/** Where the seeing comes from. */
export function Sites() {
  const client = useQueryClient();
  const sites = useQuery({ queryKey: ["sites"], queryFn: () => data(api.GET("/api/v1/sites")) });
  const [fault, setFault] = useState("");
  const done = () => {
    setFault("");
    void client.invalidateQueries();
  };
  const failed = (error: unknown) => {
    setFault(words(error));
    void sites.refetch();
  };
  const change = useMutation({
    mutationFn: (given: { id: string; base: number; body: Site }) =>
      data(
        api.PUT("/api/v1/sites/{entry_id}", {
          params: { path: { entry_id: given.id } },
          body: { base: given.base, body: given.body },
        }),
      ),
    onSuccess: done,
    onError: failed,
  });
  const add = useMutation({
    mutationFn: () => data(api.POST("/api/v1/sites", { body: NEW })),
    onSuccess: done,
    onError: failed,
  });
  return (
    <section>
      <h2>Sites</h2>
      {fault && (
        <p className="fault" role="alert">
          {fault}
        </p>
      )}
      {sites.data?.length === 0 && <p className="empty">No site yet: the seeing assumed above is used.</p>}
      {sites.data?.map((entry) => {
        const set = (part: Partial<Site>) =>
          change.mutate({ id: entry.id, base: entry.version, body: { ...entry.body, ...part } });
        const { body } = entry;
        return (
          <fieldset key={entry.id} className="site">
            <legend>{body.name}</legend>
            <label className="quantity wide">
              <span className="quantity-label">Name</span>
              <Input
                key={body.name}
                defaultValue={body.name}
                onBlur={(event) =>
                  event.target.value.trim() &&
                  event.target.value !== body.name &&
                  set({ name: event.target.value })
                }
              />
            </label>
            <QuantityInput
              label="Latitude"
              unit="°"
              low={-90}
              high={90}
              required
              value={body.latitude_deg}
              onChange={(v, ok) => ok && v !== null && set({ latitude_deg: v })}
            />
            <QuantityInput
              label="Longitude, east +"
              unit="°"
              low={-180}
              high={180}
              required
              value={body.longitude_deg}
              onChange={(v, ok) => ok && v !== null && set({ longitude_deg: v })}
            />
            <QuantityInput
              label="Elevation"
              unit="m"
              low={-450}
              high={9000}
              required
              value={body.elevation_m ?? 0}
              onChange={(v, ok) => ok && v !== null && set({ elevation_m: v })}
            />
            <QuantityInput
              label="Seeing"
              unit="″"
              low={0.2}
              high={15}
              value={body.seeing_arcsec ?? null}
              onChange={(v, ok) => ok && set({ seeing_arcsec: v })}
            />
          </fieldset>
        );
      })}
      <Button onClick={() => add.mutate()}>Add a site</Button>
    </section>
  );
}
