/** The connector table: the usual sizes, and the user's own. */
import { useQuery } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import { useState } from "react";
import { api, data } from "../api/client";
import type { ConnectorSize } from "../api/types";
import { NumberField } from "../kit/NumberField";
import { terms as common } from "../terms/common";
import { terms } from "../terms/preferences";

const FAMILIES: ConnectorSize["family"][] = ["thread", "bayonet", "clamp", "flange"];

interface Props {
  sizes: readonly ConnectorSize[];
  onChange: (sizes: ConnectorSize[]) => void;
}

export function ConnectorSizes({ sizes, onChange }: Props) {
  const table = useQuery({
    queryKey: ["connectors", sizes],
    queryFn: () => data(api.GET("/api/v1/connectors")),
    placeholderData: (before) => before,
  });
  const [size, setSize] = useState("");
  const [family, setFamily] = useState<ConnectorSize["family"]>("thread");
  const [nominal, setNominal] = useState<number | null>(null);
  const [clear, setClear] = useState<number | null>(null);
  const taken = table.data?.some((row) => row.size === size.trim()) ?? false;
  const fault = taken
    ? terms.thisSizeIsInTheTable
    : nominal !== null && clear !== null && clear > nominal
      ? terms.theClearApertureCannotBeWider
      : "";
  return (
    <section data-testid="connector-sizes" className="connector-sizes">
      <h2>{terms.connectorSizes}</h2>
      <div className="table-scroll" tabIndex={0} role="region" aria-label={terms.connectorTable}>
        <table data-testid="plain-table" className="plain-table">
          <thead>
            <tr>
              <th scope="col">{common.size}</th>
              <th scope="col">{terms.family}</th>
              <th scope="col">{common.mm}</th>
              <th scope="col">{terms.clear}</th>
              <th scope="col">
                <span className="visually-hidden">{terms.remove}</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {table.data?.map((row) => (
              <tr key={row.size}>
                <th scope="row">{row.size}</th>
                <td>{row.family}</td>
                <td>{row.nominal_mm}</td>
                <td>{row.clear_mm}</td>
                <td>
                  {sizes.some((own) => own.size === row.size) && (
                    <Button
                      size="small"
                      onClick={() => onChange(sizes.filter((own) => own.size !== row.size))}
                    >
                      {common.remove}
                    </Button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <div className="part-fields">
        <label data-testid="quantity" className="quantity">
          <span className="quantity-label">{terms.sizeAsPartsNameIt}</span>
          <Input value={size} placeholder="M52x0.75" onChange={(event) => setSize(event.target.value)} />
        </label>
        <label className="stacked">
          {terms.family2}
          <Select
            value={family}
            onChange={setFamily}
            options={FAMILIES.map((value) => ({ value, label: value }))}
          />
        </label>
        <NumberField of="ConnectorSize.nominal_mm" begun value={nominal} onChange={setNominal} />
        <NumberField of="ConnectorSize.clear_mm" begun value={clear} onChange={setClear} />
        <Button
          disabled={!size.trim() || nominal === null || clear === null || fault !== ""}
          onClick={() => {
            if (nominal === null || clear === null) return;
            onChange([
              ...sizes,
              { size: size.trim(), family, nominal_mm: nominal, clear_mm: clear, note: "" },
            ]);
            setSize("");
            setNominal(null);
            setClear(null);
          }}
        >
          {terms.addTheSize}
        </Button>
        {fault && <p className="fault">{fault}</p>}
      </div>
    </section>
  );
}
