import { useQueryClient } from "@tanstack/react-query";
import { Button, Input, Table } from "antd";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { api, data, words } from "../api/client";
import type { Part, PartKept } from "../api/types";
import { usePutAway } from "../api/usePutAway";
import { Num } from "../kit/Calculated";
import { FileButton } from "../kit/FileButton";
import { plain, shown } from "../kit/quantity";
import { useImport } from "../kit/useImport";
import { usePreferencesUnits } from "../preferences/usePreferences";
import { useShelf } from "../rig/PartPicker";
import { inShort, kindName } from "../rig/path";
import { terms as common } from "../terms/common";
import { phrase } from "../terms/phrase";
import { terms } from "../terms/shelf";
import { PartEditor } from "./PartEditor";
import { Mine, PriceCell } from "./Quick";
import "./shelf.module.css";

/** Everything that can be laid into a rig. */
export default function Shelf() {
  const putAway = usePutAway();
  const client = useQueryClient();
  const units = usePreferencesUnits();
  const shelf = useShelf();
  const [search, setSearch] = useSearchParams();
  const [text, setText] = useState("");
  const [kind, setKind] = useState("all");
  const [status, setStatus] = useState("all");
  const [editing, setEditing] = useState<{ kept: PartKept | null; start: Part | null } | null>(null);
  const incoming = useImport("parts");
  const asked = search.get("part");
  const linked = asked ? shelf.data?.find((entry) => entry.id === asked) : undefined;
  const open = editing ?? (linked ? { kept: linked, start: null } : null);
  const wanted = text.toLowerCase().split(/\s+/).filter(Boolean);
  const rows = (shelf.data ?? []).filter(({ body }) => {
    const hay =
      `${body.name} ${inShort(body)} ${kindName(body.kind)} ${body.maker ?? ""} ${body.notes ?? ""}`.toLowerCase();
    return (
      (kind === "all" || body.kind === kind) &&
      (status === "all" || body.status === status) &&
      wanted.every((word) => hay.includes(word))
    );
  });
  const kinds = [...new Set((shelf.data ?? []).map((entry) => entry.body.kind))];

  async function takeAway(entry: PartKept) {
    const params = { params: { path: { entry_id: entry.id } } };
    await putAway({
      key: `part-${entry.id}`,
      name: entry.body.name,
      more: terms.rigsThatUseItKeepTheir,
      remove: () => data(api.DELETE("/api/v1/parts/{entry_id}", params)),
      restore: () => data(api.POST("/api/v1/parts/{entry_id}/restore", params)),
      refresh: () => client.invalidateQueries({ queryKey: ["parts"] }),
    });
  }

  return (
    <main className="shelf">
      <div className="board-head">
        <h1>{terms.shelf}</h1>
        <p className="quiet">
          {shelf.data ? phrase(terms.rowsOfDataParts, { rows: rows.length, data: shelf.data.length }) : "…"}
        </p>
        <div className="actions">
          <Button href="/api/v1/parts.csv" download>
            {terms.exportCsv}
          </Button>
          <FileButton
            words={terms.importCsv}
            label={terms.csvFileOfParts}
            accept=".csv,text/csv"
            onFile={(chosen) => void incoming.read(chosen)}
          />
          <Button type="primary" onClick={() => setEditing({ kept: null, start: null })}>
            {terms.newPart}
          </Button>
        </div>
      </div>
      <div className="shelf-filters">
        <Input
          allowClear
          aria-label={common.searchTheShelf}
          placeholder={terms.searchTripletM4838M}
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
        <select aria-label={terms.kind} value={kind} onChange={(event) => setKind(event.target.value)}>
          <option value="all">{common.everyKind}</option>
          {kinds.map((entry) => (
            <option key={entry} value={entry}>
              {kindName(entry)}
            </option>
          ))}
        </select>
        <select aria-label={terms.status} value={status} onChange={(event) => setStatus(event.target.value)}>
          {["all", "owned", "borrowed", "wished", "listed", "retired"].map((entry) => (
            <option key={entry} value={entry}>
              {entry === "all" ? terms.ownedOrNot : entry}
            </option>
          ))}
        </select>
      </div>
      {shelf.error && (
        <p className="fault" role="alert">
          {words(shelf.error)}
        </p>
      )}
      <Table<PartKept>
        size="small"
        rowKey="id"
        dataSource={rows}
        pagination={rows.length > 60 ? { pageSize: 60, hideOnSinglePage: true } : false}
        scroll={{ x: 760 }}
        locale={{
          emptyText: shelf.data?.length ? terms.noPartFitsTheseWordsClear : terms.theShelfIsEmptyAddA,
        }}
        columns={[
          {
            title: terms.part,
            dataIndex: ["body", "name"],
            sorter: (a, b) => a.body.name.localeCompare(b.body.name, undefined, { numeric: true }),
            render: (_, entry) => (
              <button type="button" className="link" onClick={() => setEditing({ kept: entry, start: null })}>
                {entry.body.name}
              </button>
            ),
          },
          {
            title: terms.kind,
            width: 150,
            sorter: (a, b) => a.body.kind.localeCompare(b.body.kind),
            render: (_, entry) => kindName(entry.body.kind),
          },
          {
            title: common.inShort,
            render: (_, entry) => (
              <span className="num" data-given>
                {inShort(entry.body)}
              </span>
            ),
          },
          {
            title: terms.mass,
            width: 90,
            align: "right",
            sorter: (a, b) => (a.body.mass_g ?? -1) - (b.body.mass_g ?? -1),
            render: (_, { body }) => {
              if (body.mass_g == null) return <span className="quiet">—</span>;
              const out = shown(body.mass_g, "g", units);
              return (
                <span className="num">
                  <Num of="Telescope.mass_g">{plain(out.value, 0)}</Num>{" "}
                  <span className="quiet">{out.unit}</span>
                </span>
              );
            },
          },
          {
            title: terms.status,
            width: 90,
            sorter: (a, b) => (a.body.status ?? "").localeCompare(b.body.status ?? ""),
            render: (_, entry) => <Mine entry={entry} />,
          },
          {
            title: terms.price,
            width: 120,
            align: "right",
            sorter: (a, b) => (a.body.price?.amount ?? -1) - (b.body.price?.amount ?? -1),
            render: (_, entry) => <PriceCell entry={entry} />,
          },
          {
            title: "",
            width: 160,
            render: (_, entry) => (
              <span className="row-actions">
                <button
                  type="button"
                  className="link"
                  onClick={() =>
                    setEditing({
                      kept: null,
                      start: {
                        ...entry.body,
                        id: null,
                        name: phrase(terms.bodyCopy, { body: entry.body.name }),
                      },
                    })
                  }
                >
                  {terms.duplicate}
                </button>
                <button type="button" className="link" onClick={() => void takeAway(entry)}>
                  {common.putAway2}
                </button>
              </span>
            ),
          },
        ]}
      />
      {open && (
        <PartEditor
          key={open.kept?.id ?? open.start?.name ?? "new"}
          kept={open.kept}
          start={open.start}
          close={() => {
            setEditing(null);
            if (asked) setSearch({}, { replace: true });
          }}
        />
      )}
      {incoming.dialog}
    </main>
  );
}
