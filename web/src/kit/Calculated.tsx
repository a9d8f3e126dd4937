/** A number that opens how it was worked out: by the figures at hand, or by what the server says of its key. */
import { useQuery } from "@tanstack/react-query";
import { Popover } from "antd";
import { createContext, type ReactNode, useContext } from "react";
import { Link } from "react-router";
import { api, data, words } from "../api/client";
import type { Figure } from "../api/types";
import { terms as common } from "../terms/common";
import { terms } from "../terms/kit";
import { phrase } from "../terms/phrase";
import { Working } from "./FigureValue";

const Figures = createContext<readonly Figure[]>([]);
/** Figures whose sums are known here. */
export const FiguresAtHand = Figures.Provider;

export function Calculated({ of, children }: { of: string; children: ReactNode }) {
  const figure = useContext(Figures).find((one) => one.key === of);
  return (
    <Popover
      trigger="click"
      title={figure?.title}
      content={figure ? <Working figure={figure} /> : <Asked of={of} />}
      destroyOnHidden
    >
      <button type="button" className="worked" data-figure={of} title={terms.showTheWorking}>
        {children}
      </button>
    </Popover>
  );
}

function Asked({ of }: { of: string }) {
  const asked = useQuery({
    queryKey: ["calculation", of],
    queryFn: () => data(api.GET("/api/v1/calculations/{key}", { params: { path: { key: of } } })),
    staleTime: Number.POSITIVE_INFINITY,
  });
  if (asked.error) return <p className="fault">{words(asked.error)}</p>;
  if (!asked.data) return <p className="quiet">{common.opening}</p>;
  const { title, formula, source, limits, rule, key } = asked.data;
  return (
    <div data-testid="working" className="working" data-figure={key} role="region" aria-label={title}>
      <p>{title}</p>
      {formula && <p className="formula">{formula}</p>}
      {limits?.map((limit) => (
        <p key={limit} className="quiet">
          {limit}
        </p>
      ))}
      {source && <p className="quiet">{phrase(terms.sourceSource, { source })}</p>}
      {rule && <Link to={`/rules/${rule}`}>{rule}</Link>}
      <p className="quiet key">{key}</p>
    </div>
  );
}
