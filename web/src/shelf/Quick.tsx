/** What is set for many parts in a row, in the list itself: that a part is mine, and what it cost. */
import { useQueryClient } from "@tanstack/react-query";
import { App, Input } from "antd";
import { useState } from "react";
import { api, data, words } from "../api/client";
import type { Part, PartKept } from "../api/types";
import { parse } from "../kit/quantity";
import { phrase } from "../terms/phrase";
import { terms } from "../terms/shelf";

function useChange(entry: PartKept) {
  const client = useQueryClient();
  const { notification } = App.useApp();
  return async (change: Partial<Part>) => {
    try {
      await data(
        api.PUT("/api/v1/parts/{entry_id}", {
          params: { path: { entry_id: entry.id } },
          body: { base: entry.version, body: { ...entry.body, ...change } as Part },
        }),
      );
    } catch (error) {
      notification.error({
        message: phrase(terms.bodyWasNotChanged, { body: entry.body.name }),
        description: words(error),
      });
    }
    await client.invalidateQueries();
  };
}

export function Mine({ entry }: { entry: PartKept }) {
  const change = useChange(entry);
  const { name, status } = entry.body;
  if (status !== "listed" && status !== "wished") return <>{status}</>;
  return (
    <>
      {status === "wished" && terms.wished}
      <button
        type="button"
        className="link"
        aria-label={phrase(terms.nameMine, { name })}
        onClick={() => void change({ status: "owned" })}
      >
        {terms.mine}
      </button>
    </>
  );
}

export function PriceCell({ entry }: { entry: PartKept }) {
  const change = useChange(entry);
  const { price } = entry.body;
  const [typed, setTyped] = useState<string | null>(null);
  const amount = parse(typed ?? "", "", "metric");
  const wrong = typed !== null && typed.trim() !== "" && !(amount !== null && amount >= 0);
  const keep = () => {
    if (typed === null || wrong) return;
    const next = amount === null ? null : { ...(price ?? { currency: "EUR" }), amount };
    setTyped(null);
    if (next?.amount !== price?.amount) void change({ price: next } as Partial<Part>);
  };
  return (
    <Input
      size="small"
      variant="borderless"
      className="price-cell"
      aria-label={phrase(terms.priceOfBody, { body: entry.body.name })}
      status={wrong ? "error" : ""}
      title={wrong ? terms.aPriceIsANumberSuch : undefined}
      inputMode="decimal"
      placeholder="—"
      suffix={price ? price.currency : undefined}
      value={typed ?? (price ? String(price.amount) : "")}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={keep}
      onPressEnter={keep}
    />
  );
}
