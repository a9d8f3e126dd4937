/** The horizon of a site with one of the user's targets behind it, as it goes over tonight. */
import { useQuery } from "@tanstack/react-query";
import { Select } from "antd";
import { useState } from "react";
import { api, data, dataAs } from "../api/client";
import type { HorizonPoint, NightAnswer, SiteKept } from "../api/types";
import { terms } from "../terms/sky";
import { HorizonEditor } from "./HorizonEditor";

export function SiteHorizon({
  kept,
  onChange,
}: {
  kept: SiteKept;
  onChange: (horizon: HorizonPoint[]) => void;
}) {
  const targets = useQuery({ queryKey: ["targets"], queryFn: () => data(api.GET("/api/v1/targets")) });
  const [chosen, setChosen] = useState<string | null>(null);
  const target = targets.data?.find((entry) => entry.id === chosen)?.body;
  const night = useQuery({
    queryKey: ["night", kept.body, target],
    queryFn: () =>
      dataAs<NightAnswer>(
        api.POST("/api/v1/sky/night", {
          body: { site: kept.body, target: target as NonNullable<typeof target> },
        }),
      ),
    enabled: target !== undefined,
    placeholderData: (before) => before,
  });
  return (
    <HorizonEditor site={kept.body} track={target ? (night.data?.night ?? null) : null} onChange={onChange}>
      <Select
        allowClear
        size="small"
        aria-label={terms.targetOverTheHorizon}
        placeholder={terms.showATarget}
        style={{ minWidth: 130 }}
        value={chosen}
        options={(targets.data ?? []).map((entry) => ({ value: entry.id, label: entry.body.name }))}
        onChange={(id) => setChosen(id ?? null)}
      />
    </HorizonEditor>
  );
}
