/** Coordinates typed as people write them, both at once; what was typed stays with its fault. */
import { Input } from "antd";
import { useState } from "react";
import { api, data, words } from "../api/client";
import { Phrase } from "../terms/phrase";
import { terms } from "../terms/sky";

export function PlaceField({ onRead }: { onRead: (latitude: number, longitude: number) => void }) {
  const [text, setText] = useState("");
  const [said, setSaid] = useState("");
  const [fault, setFault] = useState("");

  async function read() {
    if (!text.trim()) return;
    try {
      const found = await data(api.GET("/api/v1/sky/place", { params: { query: { text } } }));
      setFault("");
      setSaid(`${found.latitude_deg}°, ${found.longitude_deg}°${found.note ? `: ${found.note}` : ""}`);
      onRead(found.latitude_deg, found.longitude_deg);
    } catch (error) {
      setSaid("");
      setFault(words(error));
    }
  }

  return (
    <label data-testid="quantity" className="quantity wide">
      <span className="quantity-label">{terms.coordinatesDecimalOrSexagesimal}</span>
      <Input
        aria-label={terms.coordinatesOfTheSite}
        placeholder="40°54′N 2°36′W"
        value={text}
        status={fault ? "error" : undefined}
        onChange={(event) => setText(event.target.value)}
        onBlur={() => void read()}
        onPressEnter={() => void read()}
      />
      {fault && (
        <span className="fault" role="alert">
          {fault}
        </span>
      )}
      {said && (
        <span className="quiet">
          <Phrase of={terms.readAsSaid} with={{ said }} />
        </span>
      )}
    </label>
  );
}
