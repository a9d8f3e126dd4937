/** A number that opens how it was worked out: by the figures at hand, or by what the server says of its key. */
import { useQuery } from "@tanstack/react-query";
import { Popover } from "antd";
import { createContext, type ReactNode, useContext, useState } from "react";
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

interface Asking {
  of: string;
  figure: Figure | undefined;
  at: HTMLElement;
}
const Ask = createContext<(asking: Asking) => void>(() => undefined);

/** The one place where the calculation of a number opens, beside the number that was pressed. */
export function Calculations({ children }: { children: ReactNode }) {
  const [asked, setAsked] = useState<Asking | null>(null);
  const box = asked?.at.getBoundingClientRect();
  return (
    <Ask.Provider value={setAsked}>
      {children}
      {asked && box && (
        <Popover
          open
          trigger="click"
          onOpenChange={(open) => {
            if (open) return;
            setAsked(null);
            asked.at.focus();
          }}
          title={asked.figure?.title}
          content={asked.figure ? <Working figure={asked.figure} /> : <Asked of={asked.of} />}
          destroyOnHidden
        >
          <span
            className="asked-at"
            style={{ left: box.left, top: box.top, width: box.width, height: box.height }}
          />
        </Popover>
      )}
    </Ask.Provider>
  );
}

export function Calculated({ of, children }: { of: string; children: ReactNode }) {
  const figure = useContext(Figures).find((one) => one.key === of);
  const ask = useContext(Ask);
  return (
    <button
      type="button"
      className="worked"
      data-figure={of}
      title={terms.showTheWorking}
      onClick={(event) => ask({ of, figure, at: event.currentTarget })}
    >
      {children}
    </button>
  );
}

/** A number of an answer, `Model.field`, that opens what it is and where it comes from; `still` on something pressed. */
export function Num({ of, still = false, children }: { of: string; still?: boolean; children: ReactNode }) {
  if (still) return <span data-figure={of}>{children}</span>;
  return <Calculated of={of}>{children}</Calculated>;
}

function Asked({ of }: { of: string }) {
  const asked = useQuery({
    queryKey: ["calculation", of],
    queryFn: () => data(api.GET("/api/v1/calculations/{key}", { params: { path: { key: of } } })),
    staleTime: Number.POSITIVE_INFINITY,
  });
  if (asked.error) return <p className="fault">{words(asked.error)}</p>;
  if (!asked.data) return <p className="quiet">{common.opening}</p>;
  const { title, formula, about, source, limits, rule, key } = asked.data;
  return (
    <div data-testid="working" className="working" data-figure={key} role="region" aria-label={title}>
      <p>{title}</p>
      {formula && <p className="formula">{formula}</p>}
      {about && <p className="quiet">{about}</p>}
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
