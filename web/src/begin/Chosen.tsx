/** The chosen rig, whole: its light path, its fields, what strains, what is to be bought; and what may be done with it. */

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, data, words } from "../api/client";
import type { Designed, Strip } from "../api/types";
import { Num } from "../kit/Calculated";
import { Mark } from "../kit/Mark";
import { fixed } from "../kit/quantity";
import { counted } from "../kit/words";
import { LightStrip } from "../rig/LightStrip";
import { terms } from "../terms/begin";
import { terms as common } from "../terms/common";
import { Phrase, phrase } from "../terms/phrase";
import { Fields } from "./Fields";
import { InStages } from "./InStages";
import { moneyOf, type RigRequest } from "./request";

const nothing = () => undefined;
const MOST_EASE = 10;

interface Props {
  designed: Designed;
  request: RigRequest;
  beside: readonly Designed[];
  lay: (designed: Designed) => void;
}

export function Chosen({ designed, request, beside, lay }: Props) {
  const [staging, setStaging] = useState(false);
  const navigate = useNavigate();
  const client = useQueryClient();
  const currency = request.currency ?? "EUR";
  const take = useMutation({
    mutationFn: () => data(api.POST("/api/v1/rigs", { body: { rig: designed.rig } })),
    onSuccess: async (kept) => {
      await client.invalidateQueries();
      navigate(`/rigs/${kept.id}/optics`);
    },
  });
  const { scores } = designed;
  const laid = beside.some((one) => one.row === designed.row);
  return (
    <section className="design-chosen" aria-label={terms.theChosenRig}>
      <h2>{designed.name}</h2>
      <p className="quiet">
        <Phrase
          of={terms.massKgKgToCarryTrips}
          with={{
            mass_kg: <Num of="Scores.mass_kg">{fixed(scores.mass_kg, 1)}</Num>,
            trips: counted(designed.trips, "trip"),
          }}
        />
      </p>
      <LightStrip
        slim
        beside
        strip={designed.strip as Strip}
        chosen={null}
        onChoose={nothing}
        onMove={nothing}
      />
      <Fields designed={designed} />
      <ul className="chosen-facts">
        <li>
          <Mark verdict="ok" size={13} />{" "}
          <Phrase
            of={terms.factsRulesOk}
            with={{
              facts: <Num of="Designed.facts">{designed.facts.join(" · ")}</Num>,
              ok: designed.ok,
            }}
          />
        </li>
        {designed.warnings.map((one) => (
          <li key={`${one.code} ${one.title}`}>
            <Mark verdict="warning" size={13} /> <Link to={`/rules/${one.code}`}>{one.code}</Link> {one.title}
          </li>
        ))}
        <li className="quiet">
          <Phrase
            of={terms.easeEaseOfMostEaseBurdens}
            with={{ ease: scores.ease, MOST_EASE, burdens: designed.burdens.join(", ") || terms.nothingToIt }}
          />
        </li>
      </ul>
      <h3>
        <Num of="Scores.money">
          {designed.buys.length > 0
            ? phrase(terms.toBuyMoney, { money: moneyOf(scores.money, currency) })
            : terms.nothingToBuy}
        </Num>
      </h3>
      <p className="chosen-buys">
        {designed.buys.map((buy) => (
          <span key={buy.name}>
            {buy.count > 1 && `${buy.count} × `}
            {buy.name}{" "}
            <span className="num">
              <Num of="Buy.amount">{fixed(buy.amount, 0)}</Num>
            </span>
          </span>
        ))}
      </p>
      <div className="chosen-do">
        <Button type="primary" loading={take.isPending} onClick={() => take.mutate()}>
          {terms.takeIt}
        </Button>
        <Button disabled={laid} onClick={() => lay(designed)}>
          {laid ? terms.laidBeside : common.compare}
        </Button>
        {scores.money > 0 && (
          <Button aria-expanded={staging} onClick={() => setStaging(!staging)}>
            {terms.inStages}
          </Button>
        )}
      </div>
      {take.error && (
        <p className="fault" role="alert">
          {words(take.error)}
        </p>
      )}
      {staging && scores.money > 0 && <InStages key={designed.row} designed={designed} request={request} />}
    </section>
  );
}
