/** A new place to observe from, asked for where it first matters: by its coordinates or on the map. None is kept before it has a place. */
import { useQueryClient } from "@tanstack/react-query";
import { Button, Input, Modal } from "antd";
import { lazy, Suspense, useState } from "react";
import { api, askAgain, data, words } from "../api/client";
import type { SiteKept } from "../api/types";
import { NumberField } from "../kit/NumberField";
import { degreesOf } from "../kit/quantity";
import { terms } from "../terms/sky";
import { PlaceField } from "./PlaceField";
import "./sky.module.css";

const PlaceMap = lazy(() => import("./PlaceMap"));

interface Place {
  latitude_deg: number;
  longitude_deg: number;
}

export function NewSite({ close, made }: { close: () => void; made: (kept: SiteKept) => void }) {
  const client = useQueryClient();
  const [name, setName] = useState("");
  const [place, setPlace] = useState<Place | null>(null);
  const [elevation_m, setElevation] = useState(0);
  const [fault, setFault] = useState("");
  const at = (latitude_deg: number, longitude_deg: number) => setPlace({ latitude_deg, longitude_deg });

  async function add() {
    if (!place) return;
    try {
      const { timezone } = await data(api.GET("/api/v1/sky/timezone", { params: { query: place } }));
      const body = {
        ...place,
        name: name.trim() || terms.newSite,
        elevation_m,
        timezone,
        horizon: [],
        month_c: [],
      };
      const kept = await data(api.POST("/api/v1/sites", { body }));
      await askAgain(client, "sites");
      await client.invalidateQueries({ queryKey: ["board"] });
      made(kept);
      close();
    } catch (error) {
      setFault(words(error));
    }
  }

  return (
    <Modal
      open
      title={terms.whereDoYouObserveFrom}
      onCancel={close}
      footer={
        <Button type="primary" disabled={!place} onClick={() => void add()}>
          {terms.addTheSite}
        </Button>
      }
    >
      <div className="new-site">
        <label data-testid="quantity" className="quantity">
          <span className="quantity-label">{terms.name}</span>
          <Input
            aria-label={terms.nameOfTheNewSite}
            placeholder={terms.theRidgeTheGarden}
            value={name}
            maxLength={120}
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <PlaceField onRead={at} />
        <Suspense fallback={<p className="quiet">{terms.drawingTheMap}</p>}>
          <PlaceMap
            latitude={place?.latitude_deg ?? 0}
            longitude={place?.longitude_deg ?? 0}
            unset={place === null}
            onPick={at}
          />
        </Suspense>
        <NumberField
          of="Site.elevation_m"
          value={elevation_m}
          onChange={(value) => setElevation(value ?? 0)}
        />
        <p className="quiet num" role="status">
          {place ? degreesOf(place.latitude_deg, place.longitude_deg) : terms.noPlaceYetTypeItsCoordinates}
        </p>
        {fault && (
          <p className="fault" role="alert">
            {fault}
          </p>
        )}
      </div>
    </Modal>
  );
}
