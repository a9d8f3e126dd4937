/** A guide log against the mount: what it says, line by line; its error can be taken as the mount's own. */

import { Button } from "antd";
import { useRef, useState } from "react";
import { api, data, words } from "../../api/client";
import type { GuideLogRead, Rig } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { Mark } from "../../kit/Mark";
import { fixed } from "../../kit/quantity";
import { Says } from "../../kit/Says";
import { terms } from "../../terms/frames";
import { Phrase, phrase } from "../../terms/phrase";
import type { StepProps } from "../step";

interface Props {
  rig: Rig;
  commit: StepProps["commit"];
}

export function GuideLog({ rig, commit }: Props) {
  const file = useRef<HTMLInputElement>(null);
  const [name, setName] = useState("");
  const [read, setRead] = useState<GuideLogRead | null>(null);
  const [fault, setFault] = useState("");
  const take = async (chosen: File) => {
    setName(chosen.name);
    try {
      const log = await chosen.text();
      setRead(await data(api.POST("/api/v1/frames/guide-log", { body: { rig, log, guided: true } })));
      setFault("");
    } catch (error) {
      setRead(null);
      setFault(words(error));
    }
  };
  const measured = () => {
    if (!read) return;
    const reading = { value: read.rms_arcsec, instrument: phrase(terms.guideLogName, { name }).slice(0, 80) };
    commit(
      (now) =>
        now.mount
          ? {
              ...now,
              mount: { ...now.mount, measured: { ...now.mount.measured, guided_rms_arcsec: reading } },
            }
          : now,
      terms.guidingAsMeasured,
    );
  };
  return (
    <section className="guide-log" data-testid="guide-log">
      <div className="gear-line">
        <Button onClick={() => file.current?.click()}>{terms.readAGuideLog}</Button>
        <input
          ref={file}
          type="file"
          hidden
          accept=".csv,.txt"
          aria-label={terms.guideLogAsCsv}
          onChange={(event) => {
            const chosen = event.target.files?.[0];
            if (chosen) void take(chosen);
            event.target.value = "";
          }}
        />
        <p className="quiet">{terms.csvTimeSRaErrorArcsec}</p>
      </div>
      {fault && (
        <p className="fault" role="alert">
          {name}: {fault}
        </p>
      )}
      {read && (
        <>
          <p>
            <Mark verdict={read.beyond ? "warning" : "ok"} size={12} /> <strong>{name}</strong>{" "}
            {read.beyond ? terms.isBeyondWhatTheRigReckons : terms.isWithinWhatTheRigReckons}
          </p>
          <ul className="plain-list">
            {read.lines.map((line) => (
              <li key={line.text}>
                <Says text={line} />
              </li>
            ))}
          </ul>
          {rig.mount && (
            <Button onClick={measured}>
              <Phrase
                of={terms.takeRmsArcsecAsTheMounts}
                with={{
                  rms_arcsec: (
                    <Num of="GuideLogRead.rms_arcsec" still>
                      {fixed(read.rms_arcsec, 2)}
                    </Num>
                  ),
                }}
              />
            </Button>
          )}
        </>
      )}
    </section>
  );
}
