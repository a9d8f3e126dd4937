/** Where a rig stands, chosen from the sites that are kept. */
import { useQuery } from "@tanstack/react-query";
import { Select } from "antd";
import { api, data } from "../api/client";
import type { Rig } from "../api/types";
import { phrase } from "../terms/phrase";
import { terms } from "../terms/rig";

interface Props {
  rig: Rig;
  commit: (change: (rig: Rig) => Rig, note: string) => void;
  small?: boolean;
}

export function SiteOfRig({ rig, commit, small = false }: Props) {
  const sites = useQuery({ queryKey: ["sites"], queryFn: () => data(api.GET("/api/v1/sites")) });
  const { site } = rig;
  return (
    <Select
      size={small ? "small" : "middle"}
      aria-label={terms.siteOfTheRig}
      placeholder={terms.atWhichSite}
      value={site?.id ?? site?.name ?? null}
      style={{ width: 150 }}
      options={(sites.data ?? []).map((entry) => ({ value: entry.id, label: entry.body.name }))}
      onChange={(id: string) => {
        const chosen = sites.data?.find((entry) => entry.id === id)?.body;
        if (chosen)
          commit((now) => ({ ...now, site: chosen }), phrase(terms.atChosen, { chosen: chosen.name }));
      }}
    />
  );
}
