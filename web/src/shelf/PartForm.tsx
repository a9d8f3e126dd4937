/** A part's form, drawn from the schema of its kind: titles, units, ranges and choices are the core's. */
import { Button, Checkbox, Input, Select } from "antd";
import { useState } from "react";
import type { Fault } from "../api/types";
import { NumberField } from "../kit/NumberField";
import { QuantityInput } from "../kit/QuantityInput";
import { terms as common } from "../terms/common";
import { Phrase } from "../terms/phrase";
import { terms } from "../terms/shelf";
import { blank, type Field, fieldsOf, resolve, type Schema, words } from "./schema";

type Doc = Record<string, unknown>;
interface FormProps {
  schema: Schema;
  root: Schema;
  value: Doc;
  faults: readonly Fault[];
  onChange: (value: Doc) => void;
  onValid: (path: string, valid: boolean) => void;
  path?: string;
  /** A new part: what matters first, and the rest folded. */
  first?: boolean;
}

// Kept in the file and the store, and shown when a step uses them.
const LATER = new Set(["kind", "id", "ports", "power", "documents", "measured"]);
const RANK: Record<string, number> = {
  name: 0,
  status: 1,
  mass_g: 2,
  sky_side: 50,
  sensor_side: 51,
  optical_length_mm: 52,
  optical_length_max_mm: 53,
  outer_diameter_mm: 54,
  maker: 90,
  bought_on: 91,
  holder: 1.5,
  price: 92,
  notes: 99,
};

// What one knows of a part when one buys it, besides what it cannot do without.
const FIRST = new Set([
  "name",
  "mass_g",
  "sky_side",
  "sensor_side",
  "optical_length_mm",
  "focuser",
  "saddle",
  "payload_kg",
  "price",
]);
const matters = (field: Field) => field.required || FIRST.has(field.name);

export function PartForm({
  schema,
  root,
  value,
  faults,
  onChange,
  onValid,
  path = "",
  first = false,
}: FormProps) {
  const fields = fieldsOf(schema, root).filter((field) => !(path === "" && LATER.has(field.name)));
  const rank = (field: Field) => RANK[field.name] ?? 10;
  const sorted = path === "" ? [...fields].sort((a, b) => rank(a) - rank(b)) : fields;
  const one = (field: Field) => (
    <OneField
      key={field.name}
      field={field}
      root={root}
      path={path ? `${path}.${field.name}` : field.name}
      value={value[field.name]}
      faults={faults}
      onChange={(next) => onChange({ ...value, [field.name]: next })}
      onValid={onValid}
    />
  );
  const later = first ? sorted.filter((field) => !matters(field)) : [];
  const named = (field: Field) => faults.some((fault) => fault.field.split(".")[0] === field.name);
  return (
    <div data-testid="part-form" className="part-form">
      {sorted.filter((field) => !later.includes(field)).map(one)}
      {later.length > 0 && (
        <details className="wide" open={later.some(named) || undefined}>
          <summary>
            <Phrase of={terms.laterMoreFieldsWhichMayStay} with={{ later: later.length }} />
          </summary>
          <div className="part-form">{later.map(one)}</div>
        </details>
      )}
    </div>
  );
}

interface OneProps {
  field: Field;
  root: Schema;
  path: string;
  value: unknown;
  faults: readonly Fault[];
  onChange: (value: unknown) => void;
  onValid: (path: string, valid: boolean) => void;
}

function OneField({ field, root, path, value, faults, onChange, onValid }: OneProps) {
  const { schema, title } = field;
  const fault = faults.find((entry) => entry.field === path || entry.field.endsWith(`.${path}`))?.reason;
  if (schema.type === "number" || schema.type === "integer") {
    return (
      <QuantityInput
        label={title}
        unit={schema.unit ?? ""}
        low={schema.minimum ?? Number.NEGATIVE_INFINITY}
        high={schema.maximum ?? Number.POSITIVE_INFINITY}
        whole={schema.type === "integer"}
        required={field.required && !field.nullable}
        serverFault={fault}
        value={typeof value === "number" ? value : null}
        onChange={(next, valid) => {
          onValid(path, valid);
          if (valid) onChange(next);
        }}
      />
    );
  }
  if (schema.enum) {
    return (
      <label data-testid="quantity" className="quantity">
        <span className="quantity-label">{title}</span>
        <Select
          value={value as string}
          onChange={onChange}
          options={schema.enum.map((entry) => ({ value: entry, label: entry.replaceAll("_", " ") }))}
        />
        {fault && <span className="fault">{fault}</span>}
      </label>
    );
  }
  if (schema.type === "boolean") {
    return (
      <Checkbox
        data-testid="quantity"
        className="quantity"
        checked={value === true}
        onChange={(event) => onChange(event.target.checked)}
      >
        {title}
      </Checkbox>
    );
  }
  if (schema.type === "string") {
    const Box = field.name === "notes" ? Input.TextArea : Input;
    return (
      <label
        data-testid="quantity"
        className={`quantity ${field.name === "notes" ? "wide" : ""} ${fault ? "wrong" : ""}`}
      >
        <span className="quantity-label">{title}</span>
        <Box
          value={(value as string | null) ?? ""}
          aria-label={title}
          type={schema.format === "date" ? "date" : undefined}
          list={field.name === "size" || field.name === "filter_size" ? "connector-sizes" : undefined}
          status={fault ? "error" : undefined}
          onChange={(event) =>
            onChange(event.target.value === "" && field.nullable ? null : event.target.value)
          }
        />
        {fault && (
          <span className="fault" role="alert">
            {fault}
          </span>
        )}
      </label>
    );
  }
  if (schema.properties) {
    const given = value as Doc | null | undefined;
    return (
      <fieldset className="wide">
        <legend>
          {field.nullable ? (
            <Checkbox
              checked={given != null}
              onChange={(event) => onChange(event.target.checked ? blank(schema, root) : null)}
            >
              {title}
            </Checkbox>
          ) : (
            title
          )}
        </legend>
        {given != null && (
          <PartForm
            schema={schema}
            root={root}
            value={given}
            faults={faults}
            onChange={onChange}
            onValid={onValid}
            path={path}
          />
        )}
        {fault && <span className="fault">{fault}</span>}
      </fieldset>
    );
  }
  if (schema.type === "array" && schema.items) {
    const item = resolve(schema.items, root);
    if (item.enum)
      return (
        <label data-testid="quantity" className="quantity">
          <span className="quantity-label">{title || words(field.name)}</span>
          <Select
            mode="multiple"
            aria-label={title || words(field.name)}
            value={(value as string[] | undefined) ?? []}
            onChange={onChange}
            options={item.enum.map((entry) => ({ value: entry, label: entry.replaceAll("_", " ") }))}
          />
          {fault && <span className="fault">{fault}</span>}
        </label>
      );
    const rows = (value as Doc[] | undefined) ?? [];
    return (
      <fieldset className="wide">
        <legend>{words(field.name)}</legend>
        {rows.map((row, index) => (
          <div className="array-row" key={index}>
            <PartForm
              schema={item}
              root={root}
              value={row}
              faults={faults}
              path={`${path}.${index}`}
              onValid={onValid}
              onChange={(next) => onChange(rows.map((other, i) => (i === index ? next : other)))}
            />
            <Button onClick={() => onChange(rows.filter((_, i) => i !== index))}>{common.remove}</Button>
          </div>
        ))}
        <Button onClick={() => onChange([...rows, blank(item, root)])}>{terms.addOne}</Button>
      </fieldset>
    );
  }
  return null;
}

/** Readings beside the maker's figures. */
export function MeasuredForm({
  schema,
  root,
  value,
  onChange,
}: {
  schema: Schema;
  root: Schema;
  value: Doc;
  onChange: (value: Doc) => void;
}) {
  const numbers = fieldsOf(schema, root).filter((field) => field.schema.type === "number");
  const readings = (value.measured ?? {}) as Record<
    string,
    { value: number; instrument?: string; on?: string | null; at_mm?: number | null }
  >;
  const [field, setField] = useState<string | null>(null);
  const open = numbers.filter((entry) => !(entry.name in readings));
  const set = (next: typeof readings) => onChange({ ...value, measured: next });
  return (
    <fieldset className="wide">
      <legend>{terms.measuredByYouUsedInsteadOf}</legend>
      {Object.entries(readings).map(([name, reading]) => {
        const described = numbers.find((entry) => entry.name === name);
        return (
          <div className="array-row" key={name}>
            <QuantityInput
              label={described?.title ?? name}
              unit={described?.schema.unit ?? ""}
              low={described?.schema.minimum ?? 0}
              high={described?.schema.maximum ?? 1e5}
              required
              value={reading.value}
              onChange={(next, valid) =>
                valid && next !== null && set({ ...readings, [name]: { ...reading, value: next } })
              }
            />
            {name === "factor" && (
              // A factor moves with the spacing: it is kept with the one it was read at.
              <NumberField
                of="Measurement.at_mm"
                value={reading.at_mm ?? null}
                onChange={(next) => set({ ...readings, [name]: { ...reading, at_mm: next } })}
              />
            )}
            <label data-testid="quantity" className="quantity">
              <span className="quantity-label">{terms.instrument}</span>
              <Input
                value={reading.instrument ?? ""}
                placeholder={terms.callipersScales}
                onChange={(event) =>
                  set({ ...readings, [name]: { ...reading, instrument: event.target.value } })
                }
              />
            </label>
            <Button
              onClick={() => {
                const { [name]: _gone, ...rest } = readings;
                set(rest);
              }}
            >
              {common.remove}
            </Button>
          </div>
        );
      })}
      <div className="array-row">
        <Select
          aria-label={terms.fieldMeasured}
          placeholder={terms.fieldMeasured2}
          style={{ minWidth: 200 }}
          value={field}
          onChange={setField}
          options={open.map((entry) => ({ value: entry.name, label: entry.title }))}
        />
        <Button
          disabled={!field}
          onClick={() => {
            if (!field) return;
            const nominal = value[field];
            set({
              ...readings,
              [field]: {
                value: typeof nominal === "number" ? nominal : 0,
                instrument: "callipers",
                on: new Date().toISOString().slice(0, 10),
              },
            });
            setField(null);
          }}
        >
          {terms.addAReading}
        </Button>
      </div>
    </fieldset>
  );
}
