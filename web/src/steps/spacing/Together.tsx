/** Assemblies: parts that stay together, laid whole here or in another rig, and changed everywhere at once. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { App, Button, Input, Select } from "antd";
import { useState } from "react";
import { api, data, words } from "../../api/client";
import type { PathItem, Rig, SpacingView } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { fixed, plain } from "../../kit/quantity";
import { assembled } from "../../rig/path";
import { useTouches } from "../../rig/useTouches";
import { Phrase, phrase } from "../../terms/phrase";
import { terms } from "../../terms/spacing";

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
      notification.error({ message: terms.nothingWasChanged, description: words(error) });
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
      phrase(terms.bodyMadeOne, { body: made.body.name }),
    );
    setName("");
    setFrom(null);
  });

  async function keepAsHere(entry: (typeof assemblies)[number], here: PathItem[]) {
    const body = { ...entry.body, items: here.map((one) => ({ ...one, assembly: null })) };
    const params = { path: { entry_id: entry.id } };
    const touched = await data(api.POST("/api/v1/assemblies/{entry_id}/touches", { params, body }));
    if (!(await touches(touched, rigId, entry.body.name, terms.keepItSoInAllOf))) return;
    await keep.mutateAsync({ ...entry, body });
    message.success(phrase(terms.bodyIsKeptAsItIs, { body: entry.body.name }));
    await client.invalidateQueries({ queryKey: ["rig"] });
  }

  return (
    <section className="together" aria-label={terms.assemblies}>
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
                      changePath(
                        assembled(path, entry.body.items, entry.id),
                        phrase(terms.bodyLaid, { body: entry.body.name }),
                      )
                    }
                  >
                    {terms.layItHere}
                  </Button>
                ) : (
                  <>
                    <Button size="small" onClick={guarded(() => keepAsHere(entry, here))}>
                      {terms.keepItAsItIsHere}
                    </Button>
                    <Button
                      size="small"
                      onClick={() =>
                        changePath(
                          path.map((one) => (one.assembly === entry.id ? { ...one, assembly: null } : one)),
                          phrase(terms.bodyTakenApart, { body: entry.body.name }),
                        )
                      }
                    >
                      {terms.takeItApartHere}
                    </Button>
                  </>
                )}
              </span>
            </li>
          );
        })}
      </ul>
      {kept.data?.length === 0 && <p className="quiet">{terms.nothingIsKeptTogetherYetName}</p>}
      <div className="part-fields">
        <label className="stacked">
          {terms.keepTogetherFrom}
          <Select
            value={from}
            placeholder={terms.theFirstPart}
            options={places}
            onChange={setFrom}
            allowClear
          />
        </label>
        <label className="stacked">
          {terms.toTheCameraAndCallIt}
          <Input
            value={name}
            maxLength={120}
            aria-label={terms.nameOfTheAssembly}
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <Button disabled={from === null || !name.trim()} onClick={make}>
          {terms.keepTogether}
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
      <Phrase
        of={terms.lengthMmWhichMassGKg}
        with={{
          length_mm: (
            <Num of="AssemblyFacts.length_mm">
              {length_mm == null ? terms.lengthNotKnown : `${plain(length_mm, 1)} mm`}
            </Num>
          ),
          which: unweighed.length > 0 ? terms.atLeast : "",
          mass_g: <Num of="AssemblyFacts.mass_g">{fixed(mass_g / 1000, 2)}</Num>,
          sky_side: sky_side
            ? phrase(terms.skySideGenderAtItsFront, { sky_side: sky_side.size, gender: sky_side.gender })
            : "",
        }}
      />
    </span>
  );
}
