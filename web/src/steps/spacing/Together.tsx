/** Assemblies: parts that stay together, laid whole here or in another rig, and changed everywhere at once. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { App, Button, Input, Select } from "antd";
import { useState } from "react";
import { api, data, words } from "../../api/client";
import type { PathItem, Rig, SpacingView } from "../../api/types";
import { fixed, plain } from "../../kit/quantity";
import { assembled } from "../../rig/path";
import { useTouches } from "../../rig/useTouches";

interface Props {
  rigId: string;
  rig: Rig;
  view: SpacingView;
  changePath: (path: PathItem[], note: string) => void;
}

export function Together({ rigId, rig, view, changePath }: Props) {
  const { message, notification } = App.useApp();
  const client = useQueryClient();
  const path = [...(rig.path ?? [])];
  const [name, setName] = useState("");
  const [from, setFrom] = useState<number | null>(null);
  const kept = useQuery({ queryKey: ["assemblies"], queryFn: () => data(api.GET("/api/v1/assemblies")) });
  const assemblies = kept.data ?? [];
  const touches = useTouches();
  // A mutation, so that the browser asks before it leaves the page under way.
  const keep = useMutation({
    mutationFn: (entry: { id: string; version: number; body: (typeof assemblies)[number]["body"] }) =>
      data(
        api.PUT("/api/v1/assemblies/{entry_id}", {
          params: { path: { entry_id: entry.id } },
          body: { base: entry.version, body: entry.body },
        }),
      ),
  });
  const places = view.blocks.map((block) => ({ value: block.index, label: block.name }));
  const camera = view.blocks[view.blocks.length - 1]?.index ?? 0;
  const guarded = (work: () => Promise<unknown>) => async () => {
    try {
      await work();
      await client.invalidateQueries({ queryKey: ["assemblies"] });
    } catch (error) {
      notification.error({ message: "Nothing was changed", description: words(error) });
    }
  };

  const make = guarded(async () => {
    if (from === null || !name.trim()) return;
    const items = path.slice(from, camera + 1).map((entry) => ({ ...entry, assembly: null }));
    const made = await data(
      api.POST("/api/v1/assemblies", { body: { name: name.trim(), items, notes: "" } }),
    );
    changePath(
      path.map((entry, i) => (i >= from && i <= camera ? { ...entry, assembly: made.id } : entry)),
      `${made.body.name} made one`,
    );
    setName("");
    setFrom(null);
  });

  async function keepAsHere(entry: (typeof assemblies)[number], here: PathItem[]) {
    const body = { ...entry.body, items: here.map((one) => ({ ...one, assembly: null })) };
    const params = { path: { entry_id: entry.id } };
    const touched = await data(api.POST("/api/v1/assemblies/{entry_id}/touches", { params, body }));
    if (!(await touches(touched, rigId, entry.body.name, "Keep it so in all of them"))) return;
    await keep.mutateAsync({ ...entry, body });
    message.success(`${entry.body.name} is kept as it is here, in every rig.`);
    await client.invalidateQueries({ queryKey: ["rig"] });
  }

  return (
    <section className="together" aria-label="Assemblies">
      <ul>
        {assemblies.map((entry) => {
          const here = path.filter((one) => one.assembly === entry.id);
          return (
            <li key={entry.id}>
              <strong>{entry.body.name}</strong>
              <Facts id={entry.id} version={entry.version} />
              <span className="button-row">
                {here.length === 0 ? (
                  <Button
                    size="small"
                    onClick={() =>
                      changePath(assembled(path, entry.body.items, entry.id), `${entry.body.name} laid`)
                    }
                  >
                    Lay it here
                  </Button>
                ) : (
                  <>
                    <Button size="small" onClick={guarded(() => keepAsHere(entry, here))}>
                      Keep it as it is here, in every rig
                    </Button>
                    <Button
                      size="small"
                      onClick={() =>
                        changePath(
                          path.map((one) => (one.assembly === entry.id ? { ...one, assembly: null } : one)),
                          `${entry.body.name} taken apart`,
                        )
                      }
                    >
                      Take it apart here
                    </Button>
                  </>
                )}
              </span>
            </li>
          );
        })}
      </ul>
      {kept.data?.length === 0 && (
        <p className="quiet">
          Nothing is kept together yet. Name what stays in one piece between nights and moves from rig to rig.
        </p>
      )}
      <div className="part-fields">
        <label className="stacked">
          Keep together, from
          <Select value={from} placeholder="the first part" options={places} onChange={setFrom} allowClear />
        </label>
        <label className="stacked">
          to the camera, and call it
          <Input
            value={name}
            maxLength={120}
            aria-label="Name of the assembly"
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <Button disabled={from === null || !name.trim()} onClick={make}>
          Keep together
        </Button>
      </div>
    </section>
  );
}

function Facts({ id, version }: { id: string; version: number }) {
  const facts = useQuery({
    queryKey: ["assemblies", id, version],
    queryFn: () =>
      data(api.GET("/api/v1/assemblies/{entry_id}/facts", { params: { path: { entry_id: id } } })),
  });
  if (!facts.data) return null;
  const { length_mm, mass_g, unweighed, sky_side } = facts.data;
  return (
    <span className="quiet num">
      {" "}
      {length_mm == null ? "length not known" : `${plain(length_mm, 1)} mm`},{" "}
      {unweighed.length > 0 ? "at least " : ""}
      {fixed(mass_g / 1000, 2)} kg{sky_side ? `, ${sky_side.size} ${sky_side.gender} at its front` : ""}
    </span>
  );
}
