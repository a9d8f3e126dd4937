import { useQuery } from "@tanstack/react-query";
import { Drawer, Input, type InputRef, Segmented } from "antd";
import { useRef, useState } from "react";
import { api, data, words } from "../api/client";
import type { Part } from "../api/types";
import { terms as common } from "../terms/common";
import { terms } from "../terms/parts";
import { inShort, kindName } from "./path";

interface Props {
  title: string;
  kinds: Part["kind"][];
  onPick: (part: Part) => void;
  close: () => void;
}

export function useShelf() {
  return useQuery({ queryKey: ["parts"], queryFn: () => data(api.GET("/api/v1/parts")) });
}

/** Picks a part from the shelf. */
export function PartPicker({ title, kinds, onPick, close }: Props) {
  const shelf = useShelf();
  const search = useRef<InputRef>(null);
  const [text, setText] = useState("");
  const [kind, setKind] = useState<Part["kind"] | "all">(kinds.length === 1 ? (kinds[0] ?? "all") : "all");
  const [owned, setOwned] = useState<"all" | "mine">("all");
  const wanted = text.toLowerCase().split(/\s+/).filter(Boolean);
  const parts = (shelf.data ?? [])
    .map((entry) => entry.body)
    .filter(
      (part) =>
        kinds.includes(part.kind) && (kind === "all" || part.kind === kind) && part.status !== "retired",
    )
    .filter((part) => owned === "all" || part.status === "owned" || part.status === "borrowed")
    .filter((part) => {
      const hay = `${part.name} ${inShort(part)} ${kindName(part.kind)}`.toLowerCase();
      return wanted.every((word) => hay.includes(word));
    })
    .sort((a, b) => Number(b.status === "owned") - Number(a.status === "owned"));
  return (
    <Drawer
      open
      title={title}
      onClose={close}
      size={430}
      className="part-picker"
      afterOpenChange={(open) => open && search.current?.focus()}
    >
      <Input
        ref={search}
        allowClear
        aria-label={common.searchTheShelf}
        placeholder={terms.search86MmM48Mono}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onPressEnter={() => parts[0] && onPick(parts[0])}
      />
      <div className="picker-filters">
        {kinds.length > 1 && (
          <select
            aria-label={common.kindOfPart}
            value={kind}
            onChange={(event) => setKind(event.target.value as Part["kind"])}
          >
            <option value="all">{common.everyKind}</option>
            {kinds.map((entry) => (
              <option key={entry} value={entry}>
                {kindName(entry)}
              </option>
            ))}
          </select>
        )}
        <Segmented
          value={owned}
          onChange={(value) => setOwned(value as "all" | "mine")}
          options={[
            { value: "all", label: terms.wholeShelf },
            { value: "mine", label: terms.owned },
          ]}
        />
      </div>
      {shelf.error && <p className="fault">{words(shelf.error)}</p>}
      <ul data-testid="picker-list" className="picker-list">
        {parts.map((part) => (
          <li key={part.id}>
            <button type="button" onClick={() => onPick(part)}>
              <strong>{part.name}</strong>
              <span className="quiet">{inShort(part)}</span>
              <span className="status">{part.status === "listed" ? "" : part.status}</span>
            </button>
          </li>
        ))}
      </ul>
      {shelf.data && parts.length === 0 && <p className="empty">{terms.nothingOnTheShelfFitsThese}</p>}
    </Drawer>
  );
}
