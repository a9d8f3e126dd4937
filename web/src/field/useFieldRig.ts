/** All that the field needs of a rig, fetched as the page opens and kept, so that a lost connection takes nothing away. */
import { useQuery } from "@tanstack/react-query";
import { api, dataAs } from "../api/client";
import type { AssemblyView, Rig } from "../api/types";

const FOR_THE_NIGHT = { staleTime: 300_000, gcTime: Number.POSITIVE_INFINITY };

export interface FieldRig {
  rig: Rig | null;
  build: AssemblyView | null;
  hops: { name: string; chart: string }[];
}

export function useFieldRig(rigId: string): FieldRig {
  const rig = useQuery({
    queryKey: ["field-rig", rigId],
    queryFn: async () =>
      (await dataAs<{ rig: Rig }>(api.GET("/api/v1/rigs/{rig_id}", { params: { path: { rig_id: rigId } } })))
        .rig,
    ...FOR_THE_NIGHT,
  });
  const build = useQuery({
    queryKey: ["field-build", rigId],
    enabled: rig.data !== undefined,
    queryFn: () =>
      dataAs<AssemblyView>(api.POST("/api/v1/assembly", { body: { rig: rig.data as Rig, rig_id: rigId } })),
    ...FOR_THE_NIGHT,
  });
  const hops = useQuery({
    queryKey: ["field-hops", rigId],
    enabled: rig.data !== undefined,
    queryFn: () => Promise.all((rig.data?.framings ?? []).map((one, i) => hop(rigId, one.target.name, i))),
    ...FOR_THE_NIGHT,
  });
  return { rig: rig.data ?? null, build: build.data ?? null, hops: hops.data ?? [] };
}

async function hop(rigId: string, name: string, index: number) {
  const answer = await fetch(`/api/v1/rigs/${rigId}/framings/${index}/hop-card.svg`);
  if (!answer.ok) return { name, chart: "" };
  // As part of the address itself: pictures from elsewhere, even from this page's own memory, are not let in.
  return { name, chart: `data:image/svg+xml;charset=utf-8,${encodeURIComponent(await answer.text())}` };
}
