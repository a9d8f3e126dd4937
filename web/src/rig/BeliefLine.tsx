/** One quiet line: a belief that is common and wrong, with this rig's numbers; put away for good with one click. */
import { useQueryClient } from "@tanstack/react-query";
import { App } from "antd";
import { useState } from "react";
import { api, data, words } from "../api/client";
import type { Belief } from "../api/types";
import { Says } from "../kit/Says";
import { phrase } from "../terms/phrase";
import { terms } from "../terms/rig";

export function BeliefLine({ belief }: { belief: Belief | undefined }) {
  const { notification } = App.useApp();
  const client = useQueryClient();
  const [gone, setGone] = useState<string[]>([]);
  if (!belief || gone.includes(belief.key)) return null;
  async function putAway(key: Belief["key"]) {
    setGone((now) => [...now, key]);
    try {
      const kept = await data(api.GET("/api/v1/preferences"));
      const beliefs_put_away = [...(kept.body.beliefs_put_away ?? []), key];
      const body = { base: kept.version, body: { ...kept.body, beliefs_put_away } };
      await data(api.PUT("/api/v1/preferences", { body }));
      await client.invalidateQueries({ queryKey: ["preferences"] });
    } catch (error) {
      setGone((now) => now.filter((one) => one !== key));
      notification.error({ message: terms.itCouldNotBePutAway, description: words(error) });
    }
  }
  return (
    <p className="belief quiet" role="note" data-given>
      <span>
        <em>
          “<Says text={belief.belief} />”
        </em>{" "}
        <Says text={belief.words} />
      </span>
      <button
        type="button"
        className="plain-button"
        aria-label={phrase(terms.iKnowBelief, { belief: belief.belief.text })}
        onClick={() => void putAway(belief.key)}
      >
        {terms.iKnow}
      </button>
    </p>
  );
}
