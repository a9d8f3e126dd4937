import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { App, Button, Drawer, Select } from "antd";
import { useState } from "react";
import { api, data, Refused, words } from "../api/client";
import type { Fault, Part, PartKept } from "../api/types";
import { ALL_KINDS, kindName } from "../rig/path";
import { terms as common } from "../terms/common";
import { phrase } from "../terms/phrase";
import { terms } from "../terms/shelf";
import { Documents } from "./Documents";
import { MeasuredForm, PartForm } from "./PartForm";
import { blank, resolve, type Schema } from "./schema";

type Doc = Record<string, unknown>;

/** Adds or edits a part. What was typed stays until it is kept or let go. */
export function PartEditor({
  kept,
  start,
  begins,
  close,
  onKept,
}: {
  kept: PartKept | null;
  start: Part | null;
  /** The kind a new part begins as, where that is known. */
  begins?: Part["kind"];
  close: () => void;
  onKept?: (kept: PartKept) => void;
}) {
  const { notification, modal } = App.useApp();
  const client = useQueryClient();
  const root = useQuery({
    queryKey: ["parts", "schema"],
    queryFn: () => data(api.GET("/api/v1/parts/schema")) as Promise<unknown> as Promise<Schema>,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const sizes = useQuery({
    queryKey: ["connectors"],
    queryFn: () => data(api.GET("/api/v1/connectors")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const [value, setValue] = useState<Doc | null>((kept?.body ?? start) as Doc | null);
  const [base, setBase] = useState(kept?.version ?? 0);
  const [faults, setFaults] = useState<Fault[]>([]);
  const [invalid, setInvalid] = useState<ReadonlySet<string>>(new Set());
  const [touched, setTouched] = useState(false);

  const keep = useMutation({
    mutationFn: () =>
      kept
        ? data(
            api.PUT("/api/v1/parts/{entry_id}", {
              params: { path: { entry_id: kept.id } },
              body: { base, body: value as unknown as Part },
            }),
          )
        : data(api.POST("/api/v1/parts", { body: value as unknown as Part })),
    onSuccess: (saved) => {
      void client.invalidateQueries();
      notification.success({ message: phrase(terms.bodyIsOnTheShelf, { body: saved.body.name }) });
      onKept?.(saved as PartKept);
      close();
    },
    onError: async (error) => {
      if (error instanceof Refused && error.status === 409 && kept) {
        setBase(error.current ?? base);
        setFaults([
          {
            field: "part",
            reason: terms.anotherWindowChangedThisPartMeanwhile,
            accepted: "",
          },
        ]);
        return;
      }
      setFaults(
        error instanceof Refused && error.faults.length > 0
          ? [...error.faults]
          : [{ field: "part", reason: words(error), accepted: "" }],
      );
    },
  });

  const kinds = ALL_KINDS.filter((kind) => kind in (root.data?.discriminator?.mapping ?? {}));
  const kind = value?.kind as Part["kind"] | undefined;
  const schema =
    root.data && kind ? resolve({ $ref: root.data.discriminator?.mapping[kind] ?? "" }, root.data) : null;
  const begin = (chosen: string) => {
    if (!root.data) return;
    const form = resolve({ $ref: root.data.discriminator?.mapping[chosen] ?? "" }, root.data);
    setInvalid(new Set());
    setValue({ ...blank(form, root.data), kind: chosen, name: (value?.name as string) ?? "" });
  };
  if (begins && root.data && value === null) begin(begins);
  const change = (next: Doc) => {
    setTouched(true);
    setValue(next);
  };
  const leave = () => {
    if (!touched) close();
    else
      void modal.confirm({
        title: terms.letGoOfWhatYouTyped,
        okText: terms.letItGo,
        cancelText: terms.keepEditing,
        onOk: close,
      });
  };
  const loose = faults.filter((fault) => !fault.field.includes(".") || fault.field === "part");
  return (
    <Drawer
      open
      size={620}
      title={kept ? kept.body.name : terms.newPart}
      onClose={leave}
      footer={
        <div className="button-row">
          <Button
            type="primary"
            disabled={!schema || invalid.size > 0}
            loading={keep.isPending}
            onClick={() => keep.mutate()}
          >
            {common.keep}
          </Button>
          <Button onClick={leave}>{terms.cancel}</Button>
          {invalid.size > 0 && (
            <span className="fault">
              {invalid.size === 1
                ? terms.oneFieldNeedsFixing
                : phrase(terms.invalidFieldsNeedFixing, { invalid: invalid.size })}
            </span>
          )}
        </div>
      }
    >
      {!kept && !start && (
        <label className="stacked">
          {common.kindOfPart}
          <Select
            placeholder={terms.chooseAKind}
            value={kind ?? null}
            options={kinds.map((entry) => ({ value: entry, label: kindName(entry) }))}
            onChange={(chosen: string) => {
              begin(chosen);
            }}
          />
        </label>
      )}
      {loose.map((fault) => (
        <p className="fault" role="alert" key={fault.field + fault.reason}>
          {fault.field === "part" ? "" : `${fault.field}: `}
          {fault.reason}
        </p>
      ))}
      {faults.filter((fault) => fault.field.includes(".")).length > 0 && (
        <p className="fault">{terms.someFieldsWereRefusedTheReason}</p>
      )}
      {schema && root.data && value && (
        <>
          <datalist id="connector-sizes">
            {sizes.data?.map((row) => (
              <option key={row.size} value={row.size}>
                {row.note}
              </option>
            ))}
          </datalist>
          <PartForm
            first={!kept && !start}
            schema={schema}
            root={root.data}
            value={value}
            faults={faults}
            onChange={change}
            onValid={(path, valid) =>
              setInvalid((before) => {
                const next = new Set(before);
                if (valid) next.delete(path);
                else next.add(path);
                return next;
              })
            }
          />
          {(kept || start) && (
            <MeasuredForm schema={schema} root={root.data} value={value} onChange={change} />
          )}
          {kept && <Documents part={kept.id} />}
        </>
      )}
    </Drawer>
  );
}
