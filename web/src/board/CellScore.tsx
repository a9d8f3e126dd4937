/** The night's score of a cell; pressed, it shows what it is made of. */

import { useQuery } from "@tanstack/react-query";
import { api, data, words } from "../api/client";
import type { BoardRow, Cell, Worth } from "../api/types";
import { useChosenNight } from "../app/night";
import { Num } from "../kit/Calculated";
import { WorkedLater } from "../kit/FigureValue";
import { fixed } from "../kit/quantity";
import { WorthTerms } from "../kit/WorthTerms";
import { terms } from "../terms/board";

interface Props {
  row: BoardRow;
  cell: Cell;
  site: string | null;
}

export function CellScore({ row, cell, site }: Props) {
  return (
    <span className="cell-score">
      <WorkedLater
        title={`${row.name}: ${fixed(cell.score, 0)} of 100`}
        content={<Made rig={row.rig_id} target={cell.target_id} site={site} />}
      >
        <Num of="BoardCell.score" still>
          {fixed(cell.score, 0)}
        </Num>
      </WorkedLater>
    </span>
  );
}

function Made({ rig, target, site }: { rig: string; target: string; site: string | null }) {
  const { night } = useChosenNight();
  const answer = useQuery({
    queryKey: ["score", rig, target, site, night],
    queryFn: () =>
      data(
        api.GET("/api/v1/board/score", {
          params: { query: { rig, target, site: site ?? undefined } },
        }),
      ) as Promise<Worth | null>,
  });
  if (answer.error) return <p className="fault">{words(answer.error)}</p>;
  if (answer.isPending) return <p className="loading">…</p>;
  return answer.data ? <WorthTerms worth={answer.data} /> : <p>{terms.notUsableOnThisNight}</p>;
}
