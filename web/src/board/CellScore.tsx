/** The night's score of a cell; pressed, it shows what it is made of. */
import { useQuery } from "@tanstack/react-query";
import { api, data, words } from "../api/client";
import type { BoardRow, Cell, Worth } from "../api/types";
import { WorkedLater } from "../drawing/FigureValue";
import { WorthTerms } from "../drawing/WorthTerms";

interface Props {
  row: BoardRow;
  cell: Cell;
  site: string | null;
  on: string | null;
}

export function CellScore({ row, cell, site, on }: Props) {
  return (
    <span className="cell-score">
      <WorkedLater
        title={`${row.name}: ${cell.score?.toFixed(0)} of 100`}
        content={<Made rig={row.rig_id} target={cell.target_id} site={site} on={on} />}
      >
        {cell.score?.toFixed(0)}
      </WorkedLater>
    </span>
  );
}

function Made({
  rig,
  target,
  site,
  on,
}: {
  rig: string;
  target: string;
  site: string | null;
  on: string | null;
}) {
  const answer = useQuery({
    queryKey: ["score", rig, target, site, on],
    queryFn: () =>
      data(
        api.GET("/api/v1/board/score", {
          params: { query: { rig, target, site: site ?? undefined, on: on ?? undefined } },
        }),
      ) as Promise<Worth | null>,
  });
  if (answer.error) return <p className="fault">{words(answer.error)}</p>;
  if (answer.isPending) return <p className="loading">…</p>;
  return answer.data ? <WorthTerms worth={answer.data} /> : <p>Not usable on this night.</p>;
}
