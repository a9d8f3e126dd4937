import { useQuery } from "@tanstack/react-query";
import { api, dataAs } from "../../api/client";
import type { Framing, NightAnswer, Rig } from "../../api/types";
import { useChosenNight } from "../../app/night";

/** The night and the year of a framed target at the rig's site; asked once, however many show it. */
export function useNight(rig: Rig, framing: Framing) {
  const { site } = rig;
  const { target, night: planned } = framing;
  const { night: chosen } = useChosenNight();
  return useQuery({
    queryKey: ["night", site, target, planned, chosen],
    queryFn: () =>
      dataAs<NightAnswer>(
        api.POST("/api/v1/sky/night", {
          body: { site: site as NonNullable<typeof site>, target, on: planned },
        }),
      ),
    enabled: site != null,
    placeholderData: (before) => before,
  });
}
