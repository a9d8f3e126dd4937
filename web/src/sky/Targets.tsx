/** The user's own targets: searched, filtered, edited, taken in and out as CSV and VOTable. */

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { App, Button, Drawer, Input, Select } from "antd";
import { useEffect, useState } from "react";
import { useSearchParams } from "react-router";
import { api, data, dataAs, Refused, words } from "../api/client";
import type { SiteKept, Target, YearStrip } from "../api/types";
import { useQueuedEdits } from "../api/useQueuedEdits";
import { Num } from "../kit/Calculated";
import { FileButton } from "../kit/FileButton";
import { NumberField } from "../kit/NumberField";
import { Pages } from "../kit/Pages";
import { degrees, fixed, hours } from "../kit/quantity";
import { Says } from "../kit/Says";
import { useImport } from "../kit/useImport";
import { commonName, kindWords, sizeWords } from "../kit/words";
import { terms as common } from "../terms/common";
import { Phrase, phrase } from "../terms/phrase";
import { terms } from "../terms/sky";
import { KINDS } from "./kinds";
import { YearLine } from "./YearLine";

const NEW: Target = {
  name: terms.newTarget,
  ra_deg: 0,
  dec_deg: 0,
  position_angle_deg: 0,
  kind: "other",
  lists: [],
  aliases: [],
  size_source: "",
  size_doubtful: false,
  other_sizes: [],
};

const PAGE = 60;

interface Kept {
  id: string;
  version: number;
  body: Target;
}

export function Targets({ site }: { site: SiteKept | undefined }) {
  const { notification } = App.useApp();
  const client = useQueryClient();
  const targets = useQuery({ queryKey: ["targets"], queryFn: () => data(api.GET("/api/v1/targets")) });
  const [search] = useSearchParams();
  const named = search.get("target") ?? "";
  const [text, setText] = useState(named);
  useEffect(() => setText(named), [named]);
  const [from, setFrom] = useState(0);
  const [kind, setKind] = useState<string | null>(null);
  const [list, setList] = useState<string | null>(null);
  const [editing, setEditing] = useState<string | null>(null);
  const incoming = useImport("targets");
  const all = targets.data ?? [];
  const lists = [...new Set(all.flatMap((entry) => entry.body.lists ?? []))].sort();
  const wanted = text.toLowerCase().split(/\s+/).filter(Boolean);
  const fitting = all.filter(({ body }) => {
    const hay = `${body.name} ${(body.aliases ?? []).join(" ")}`.toLowerCase();
    return (
      wanted.every((word) => hay.includes(word)) &&
      (kind === null || body.kind === kind) &&
      (list === null || (body.lists ?? []).includes(list))
    );
  });
  const first = from < fitting.length ? from : 0;
  const shown = fitting.slice(first, first + PAGE);
  const ids = shown.map((entry) => entry.id);
  const years = useQuery({
    queryKey: ["years", site?.id, site?.version, ids],
    queryFn: () =>
      dataAs<{ id: string; year: YearStrip }[]>(
        api.POST("/api/v1/sky/years", { body: { site: site?.id ?? "", targets: ids } }),
      ),
    enabled: site !== undefined && ids.length > 0,
    placeholderData: (before) => before,
  });
  const yearOf = new Map(years.data?.map((line) => [line.id, line.year]));
  const fail = (error: unknown) =>
    notification.error({ message: common.notDone, description: words(error), duration: 0 });

  async function add() {
    try {
      const made = await data(api.POST("/api/v1/targets", { body: NEW }));
      await client.invalidateQueries();
      setEditing(made.id);
    } catch (error) {
      fail(error);
    }
  }

  const edited = all.find((entry) => entry.id === editing);
  return (
    <section className="targets" aria-label={common.targets2}>
      <div data-testid="sky-tools" className="sky-tools">
        <h2>{common.targets2}</h2>
        <Input
          allowClear
          size="small"
          aria-label={terms.searchTheTargets}
          placeholder={common.search}
          style={{ width: 150 }}
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
        <Select
          allowClear
          size="small"
          aria-label={terms.kindOfTarget}
          placeholder={common.everyKind}
          style={{ minWidth: 140 }}
          value={kind}
          options={KINDS.map((value) => ({ value, label: kindWords(value) }))}
          onChange={(value) => setKind(value ?? null)}
        />
        <Select
          allowClear
          size="small"
          aria-label={terms.list}
          placeholder={terms.everyList}
          style={{ minWidth: 120 }}
          value={list}
          options={lists.map((value) => ({ value, label: value }))}
          onChange={(value) => setList(value ?? null)}
        />
        <span className="exports">
          <a className="link" href="/api/v1/targets.csv" download>
            {common.csv}
          </a>
          <a className="link" href="/api/v1/targets.vot" download>
            {terms.votable}
          </a>
          <FileButton
            words={terms.readAFile}
            label={terms.targetsFile}
            accept=".csv,.vot,.xml,text/csv"
            onFile={(file) => void incoming.read(file)}
          />
          <Button size="small" onClick={() => void add()}>
            {common.addATarget}
          </Button>
        </span>
      </div>
      <div className="table-scroll" tabIndex={0} role="region" aria-label={terms.listOfTargets}>
        <table data-testid="plain-table" className="plain-table">
          <thead>
            <tr>
              <th scope="col">{common.target}</th>
              <th scope="col">{terms.kind}</th>
              <th scope="col">{common.rightAscension}</th>
              <th scope="col">{terms.declination}</th>
              <th scope="col">{common.size}</th>
              <th scope="col">{terms.angle}</th>
              <th scope="col">{terms.mag}</th>
              <th scope="col">{terms.lists}</th>
              <th scope="col">
                <Phrase
                  of={terms.itsYearBody}
                  with={{ body: site ? phrase(terms.atBody, { body: site.body.name }) : "" }}
                />
              </th>
            </tr>
          </thead>
          <tbody>
            {shown.map(({ id, body }) => (
              <tr key={id}>
                <th scope="row">
                  <button type="button" className="plain-button" onClick={() => setEditing(id)}>
                    {body.name} <span className="quiet">{commonName(body)}</span>
                  </button>
                </th>
                <td>{kindWords(body.kind)}</td>
                <td className="num">
                  <Num of="Target.ra_deg">{hours(body.ra_deg)}</Num>
                </td>
                <td className="num">
                  <Num of="Target.dec_deg">{degrees(body.dec_deg)}</Num>
                </td>
                <td className="num" data-figure="Target.major_arcmin">
                  {body.major_arcmin == null
                    ? terms.notKnown
                    : `${sizeWords(body.major_arcmin)}${body.minor_arcmin == null ? "" : ` × ${sizeWords(body.minor_arcmin)}`}`}
                </td>
                <td className="num">
                  <Num of="Target.position_angle_deg">{fixed(body.position_angle_deg ?? 0, 0)}</Num>°
                </td>
                <td className="num">
                  <Num of="Target.magnitude">{fixed(body.magnitude, 1)}</Num>
                </td>
                <td>{(body.lists ?? []).join(", ")}</td>
                <td className="year-cell">
                  <YearCell year={yearOf.get(id)} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <Pages what={common.targets} from={first} most={PAGE} of={fitting.length} go={setFrom} />
      {targets.data && shown.length === 0 && (
        <p className="quiet">
          {all.length === 0 ? terms.noTargetOfYourOwnYet : terms.noTargetFitsTheseWordsClear}
        </p>
      )}
      {edited && <Edit kept={edited} close={() => setEditing(null)} />}
      {incoming.dialog}
    </section>
  );
}

function YearCell({ year }: { year: YearStrip | undefined }) {
  if (!year) return null;
  return (
    <>
      <YearLine year={year} />{" "}
      <span className="quiet">
        <Says text={year.words} />
      </span>
    </>
  );
}

function Edit({ kept, close }: { kept: Kept; close: () => void }) {
  const [fault, setFault] = useState("");
  const { body } = kept;
  const queued = useQueuedEdits<Target>(
    "targets",
    (id, base, whole) =>
      data(
        api.PUT("/api/v1/targets/{entry_id}", {
          params: { path: { entry_id: id } },
          body: { base, body: whole },
        }),
      ),
    (error) => {
      const told =
        error instanceof Refused ? error.faults.map((one) => `${one.field}: ${one.reason}`).join("; ") : "";
      setFault(error === null ? "" : told || words(error));
    },
  );
  const change = (part: Partial<Target>) => queued(kept.id, part);

  const number = (
    key: "ra_deg" | "dec_deg" | "major_arcmin" | "minor_arcmin" | "position_angle_deg" | "magnitude",
  ) => (
    <NumberField
      key={key}
      of={`Target.${key}`}
      value={body[key] ?? null}
      onChange={(value) => change({ [key]: value })}
    />
  );
  return (
    <Drawer open title={body.name} onClose={close} size={380} mask={false}>
      {fault && (
        <p className="fault" role="alert">
          {fault}
        </p>
      )}
      <div className="target-form">
        <label data-testid="quantity" className="quantity wide">
          <span className="quantity-label">{terms.name}</span>
          <Input
            key={body.name}
            defaultValue={body.name}
            maxLength={120}
            onBlur={(event) => {
              const name = event.target.value.trim();
              if (name && name !== body.name) change({ name });
            }}
          />
        </label>
        {number("ra_deg")}
        {number("dec_deg")}
        {number("major_arcmin")}
        {number("minor_arcmin")}
        {number("position_angle_deg")}
        {number("magnitude")}
        <label className="stacked">
          {terms.kindOfLight}
          <Select
            value={body.kind ?? "other"}
            options={KINDS.map((value) => ({ value, label: kindWords(value) }))}
            onChange={(value) => change({ kind: value })}
          />
        </label>
        <label className="stacked">
          {terms.lists2}
          <Select
            mode="tags"
            aria-label={terms.lists2}
            value={[...(body.lists ?? [])]}
            onChange={(value: string[]) => change({ lists: value.map((one) => one.trim()).filter(Boolean) })}
          />
        </label>
      </div>
    </Drawer>
  );
}
