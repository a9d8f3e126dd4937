/** The target's exposure plan: blocks that can be set, moved and dropped, and the usual ways to plan it in one press. */

import { Button, Select } from "antd";
import { type KeyboardEvent, useState } from "react";
import type { Exposure, ExposureView, Rig } from "../../api/types";
import { Num } from "../../kit/Calculated";
import { NumberField } from "../../kit/NumberField";
import { fixed, share } from "../../kit/quantity";
import { Says } from "../../kit/Says";
import { terms as common } from "../../terms/common";
import { terms } from "../../terms/exposure";
import { Phrase, phrase } from "../../terms/phrase";

interface Props {
  rig: Rig;
  view: ExposureView;
  plan: readonly Exposure[];
  set: (plan: Exposure[], note: string) => void;
}

export function Plan({ rig, view, plan, set }: Props) {
  const [chosen, setChosen] = useState<number | null>(null);
  const [dragged, setDragged] = useState<number | null>(null);
  const told = view.plan;
  const filters = (rig.path ?? []).flatMap((item) => item.filters ?? []);
  const put = (from: number, to: number) => {
    if (to < 0 || to >= plan.length || from === to) return;
    const moved = [...plan];
    const [one] = moved.splice(from, 1);
    if (!one) return;
    moved.splice(to, 0, one);
    set(moved, terms.blockMoved);
    setChosen(to);
  };
  const change = (index: number, by: Partial<Exposure>, note: string) =>
    set(
      plan.map((one, i) => (i === index ? { ...one, ...by } : one)),
      note,
    );
  const onKey = (index: number) => (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    put(index, index + by);
    document.querySelectorAll<HTMLElement>("[data-block]")[index + by]?.focus();
  };
  const one = chosen === null ? undefined : plan[chosen];
  return (
    <section className="expose-plan" aria-label={terms.exposurePlan}>
      <div className="plan-blocks" data-testid="plan-blocks">
        {told?.blocks.map((block, i) => (
          <button
            key={i}
            type="button"
            data-block={i}
            draggable
            className={`plan-block ${block.missing.text ? "missing" : ""}`}
            style={{ flexGrow: Math.max(block.share, 0.12) * 100 }}
            aria-pressed={chosen === i}
            onClick={() => setChosen(chosen === i ? null : i)}
            onKeyDown={onKey(i)}
            onDragStart={() => setDragged(i)}
            onDragOver={(event) => event.preventDefault()}
            onDrop={() => dragged !== null && put(dragged, i)}
          >
            <strong>{block.label}</strong>
            <span className="num">
              <Says text={block.words} still of="ExposureBlock.words" />
            </span>
            {block.snr != null && (
              <span className="quiet num">
                <Phrase
                  of={terms.signalToNoiseSnr}
                  with={{
                    snr: (
                      <Num of="ExposureBlock.snr" still>
                        {fixed(block.snr, 1)}
                      </Num>
                    ),
                  }}
                />
              </span>
            )}
            {block.missing.text && (
              <span className="fault">
                <Says text={block.missing} still />
              </span>
            )}
          </button>
        ))}
        <Button
          onClick={() => {
            const used = filters.find((_, i) => i === 0);
            const next: Exposure = {
              filter: plan[plan.length - 1]?.filter ?? used?.id ?? used?.name ?? null,
              sub_s: view.sub?.recommended_s ?? view.sub?.sub_s ?? 180,
              count: 20,
              dither_every: 1,
            };
            set([...plan, next], terms.blockPlanned);
            setChosen(plan.length);
          }}
        >
          {terms.addABlock}
        </Button>
      </div>
      {one && chosen !== null && (
        <div className="block-fields" data-testid="block-fields">
          <label>
            {common.filter}
            <Select
              aria-label={terms.filterOfTheBlock}
              value={one.filter ?? ""}
              onChange={(key) => change(chosen, { filter: key || null }, terms.filterPlanned)}
              options={[
                { value: "", label: common.noFilter },
                ...filters.map((filter) => ({ value: filter.id ?? filter.name, label: filter.name })),
                ...(one.filter && !filters.some((filter) => (filter.id ?? filter.name) === one.filter)
                  ? [{ value: one.filter, label: told?.blocks[chosen]?.label ?? one.filter }]
                  : []),
              ]}
            />
          </label>
          <NumberField
            of="Exposure.sub_s"
            value={one.sub_s ?? 180}
            onChange={(sub_s) => sub_s && change(chosen, { sub_s }, terms.subOfTheBlockPlanned)}
          />
          <NumberField
            of="Exposure.count"
            value={one.count ?? 20}
            onChange={(count) => count && change(chosen, { count }, terms.subsOfTheBlockPlanned)}
          />
          <NumberField
            of="Exposure.dither_every"
            value={one.dither_every ?? 1}
            onChange={(every) =>
              every !== null && change(chosen, { dither_every: every }, terms.dithersPlanned)
            }
          />
          <Button onClick={() => put(chosen, chosen - 1)} disabled={chosen === 0}>
            {terms.earlier}
          </Button>
          <Button onClick={() => put(chosen, chosen + 1)} disabled={chosen === plan.length - 1}>
            {common.later}
          </Button>
          <Button
            onClick={() => {
              set(
                plan.filter((_, i) => i !== chosen),
                terms.blockDropped,
              );
              setChosen(null);
            }}
          >
            {terms.dropIt}
          </Button>
        </div>
      )}
      {told && told.blocks.length > 0 && (
        <p data-testid="plan-sum">
          <Phrase
            of={terms.lightOfLightInClockBy}
            with={{
              light: (
                <strong className="num">
                  <Says text={told.light} of="ExposurePlan.light" />
                </strong>
              ),
              clock: (
                <span className="num">
                  <Says text={told.clock} of="ExposurePlan.clock" />
                </span>
              ),
              open_share: (
                <span className="num">
                  <Num of="ExposurePlan.open_share">{share(told.open_share)}</Num>
                </span>
              ),
            }}
          />
          {told.snr != null && (
            <Phrase
              of={terms.signalToNoiseSnrOfWished}
              with={{
                snr: (
                  <strong className="num">
                    <Num of="ExposurePlan.snr">{fixed(told.snr, 1)}</Num>
                  </strong>
                ),
                wished: view.wished,
              }}
            />
          )}
          <Phrase
            of={terms.focusRefocusingsStorageWords}
            with={{ refocusings: told.refocusings, storage_words: <Says text={told.storage_words} /> }}
          />
        </p>
      )}
      {view.ways.length > 0 && (
        <ul className="ways" data-testid="ways">
          {view.ways.map((way) => (
            <li key={way.title.text}>
              <Button
                size="small"
                onClick={() => set([...way.blocks], phrase(terms.plannedTitle, { title: way.title.text }))}
              >
                <Phrase
                  of={terms.planTitle}
                  with={{ title: <Says text={way.title} still of="ExposureWay.title" /> }}
                />
              </Button>{" "}
              <span className="num">
                <Says text={way.total} of="ExposureWay.total" />
              </span>{" "}
              <span className="quiet">
                <Num of="ExposureWay.blocks">
                  {way.blocks.map((block) => `${block.count} × ${block.sub_s} s`).join(" + ")}
                </Num>
                ; <Says text={way.words} />
              </span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
