import { Button, Drawer, Select } from "antd";
import { Link } from "react-router";
import type { PatchOperation, PathItem, Rig } from "../api/types";
import { plain, shown } from "../kit/quantity";
import { usePreferencesUnits } from "../preferences/usePreferences";
import { terms as common } from "../terms/common";
import { phrase } from "../terms/phrase";
import { terms } from "../terms/rig";
import { inShort, kindName, movedItem } from "./path";
import { SwapButton } from "./SwapButton";

interface Props {
  rig: Rig;
  patch: (change: PatchOperation[], note: string) => void;
  path: PathItem[];
  index: number;
  change: (path: PathItem[], note: string) => void;
  choose: (index: number | null) => void;
}

/** One part of the path: what it is, and what can be done with it. */
export function Inspector({ rig, patch, path, index, change, choose }: Props) {
  const units = usePreferencesUnits();
  const entry = path[index];
  if (!entry) return null;
  const part = entry.part;
  const rows: [string, string][] = [
    [terms.kind, kindName(part.kind)],
    [common.inShort, inShort(part)],
    [terms.skySide, part.sky_side ? `${part.sky_side.size}, ${part.sky_side.gender}` : "open"],
    [terms.sensorSide, part.sensor_side ? `${part.sensor_side.size}, ${part.sensor_side.gender}` : "none"],
  ];
  const number = (label: string, value: number | null | undefined, unit: string) => {
    const out = value == null ? null : shown(value, unit, units);
    rows.push([label, out ? `${plain(out.value)} ${out.unit}` : terms.notGiven]);
  };
  if (part.kind === "telescope") {
    number(terms.aperture, part.aperture_mm, "mm");
    number(terms.tubeLength, part.tube_length_mm, "mm");
  } else if (part.kind === "camera") number(terms.flangeToSensor, part.flange_to_sensor_mm, "mm");
  else number(terms.opticalLength, part.optical_length_mm, "mm");
  number(terms.mass, part.mass_g, "g");
  for (const [field, reading] of Object.entries(part.measured ?? {})) {
    rows.push([
      phrase(terms.measuredField, { field: field.replaceAll("_", " ") }),
      `${reading.value}${reading.instrument ? ` (${reading.instrument})` : ""}`,
    ]);
  }
  const move = (by: number) => {
    change(movedItem(path, index, index + by), phrase(common.partMoved, { part: part.name }));
    choose(Math.max(0, Math.min(path.length - 1, index + by)));
  };
  return (
    <Drawer
      open
      title={part.name}
      onClose={() => choose(null)}
      size={400}
      mask={false}
      data-testid="inspector"
      className="inspector"
    >
      <table data-testid="plain-table" className="plain-table">
        <tbody>
          {rows.map(([label, value]) => (
            <tr key={label}>
              <th scope="row">{label}</th>
              <td>{value}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {entry.filters && entry.filters.length > 0 && (
        <label className="stacked">
          {common.filterInUse}
          <Select
            value={entry.in_use ?? -1}
            options={[
              { value: -1, label: common.none },
              ...entry.filters.map((filter, i) => ({ value: i, label: filter.name })),
            ]}
            onChange={(value: number) =>
              change(
                path.map((other, i) =>
                  i === index ? { ...other, in_use: value < 0 ? null : value } : other,
                ),
                common.filterChanged,
              )
            }
          />
        </label>
      )}
      <div className="button-row">
        <SwapButton
          rig={rig}
          index={index}
          kinds={[part.kind]}
          patch={patch}
          label={terms.swapForAnother}
          primary
        />
        <Button disabled={index === 0} onClick={() => move(-1)}>
          {terms.towardsTheSky}
        </Button>
        <Button disabled={index === path.length - 1} onClick={() => move(1)}>
          {terms.towardsTheSensor}
        </Button>
        <Button
          danger
          onClick={() => {
            change(
              path.filter((_, i) => i !== index),
              phrase(common.partTakenOut, { part: part.name }),
            );
            choose(null);
          }}
        >
          {common.remove}
        </Button>
      </div>
      {part.id && (
        <p>
          <Link to={`/parts?part=${part.id}`}>{terms.itsShelfPageEditItOr}</Link>
        </p>
      )}
    </Drawer>
  );
}
