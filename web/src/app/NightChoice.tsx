/** The choice of night: named as practitioners do, a night on or back, the month with its moons, new moon by one click. */

import { useQuery } from "@tanstack/react-query";
import { Popover } from "antd";
import { useRef, useState } from "react";
import { api, data } from "../api/client";
import type { EveningChoice } from "../api/types";
import { Says } from "../kit/Says";
import { terms } from "../terms/app";
import { terms as common } from "../terms/common";
import { phrase } from "../terms/phrase";
import { Disc } from "./MoonDisc";
import "./NightChoice.module.css";
import { aDay, useChosenNight } from "./night";

const DAYS = ["Mo", "Tu", "We", "Th", "Fr", "Sa", "Su"];

/** For the whole application. */
export function NightOfAll() {
  const { night, choose } = useChosenNight();
  return <NightChoice label={terms.nightOf} night={night} choose={choose} />;
}

interface ChoiceProps {
  label: string;
  /** The evening chosen; null for the one of the whole application, or tonight. */
  night: string | null;
  /** Hears null for tonight, and always the day itself. */
  choose: (night: string | null, day: string) => void;
  small?: boolean;
  /** Whether it closes over what was chosen. */
  closes?: boolean;
}

export function NightChoice({ label, night, choose, small = false, closes = false }: ChoiceProps) {
  const [open, setOpen] = useState(false);
  const { night: ofAll } = useChosenNight();
  const answer = useQuery({
    queryKey: ["evening", night ?? ofAll],
    queryFn: () =>
      data(
        api.GET("/api/v1/sky/evening", { params: { query: { night: night ?? ofAll } } }),
      ) as Promise<EveningChoice>,
    placeholderData: (before) => before,
  });
  const told = answer.data;
  const go = (day: string | null | undefined) => {
    if (!day) return;
    choose(day === told?.tonight ? null : day, day);
    if (closes) setOpen(false);
  };
  return (
    <fieldset
      className={`evening-choice ${small ? "evening-small" : ""} ${closes ? "evening-field" : ""}`}
      aria-label={label}
      data-night={told?.day}
    >
      <button
        type="button"
        aria-label={terms.aNightEarlier}
        disabled={!told?.earlier}
        onClick={() => go(told?.earlier)}
      >
        ‹
      </button>
      <Popover
        trigger="click"
        open={open}
        onOpenChange={setOpen}
        placement="bottom"
        destroyOnHidden
        // Something is there from the first moment: what opens with nothing in it is not opened at all, and the press is lost.
        content={
          told ? (
            <Month told={told} go={go} tonight={() => go(told.tonight)} />
          ) : (
            <p className="quiet">{common.opening}</p>
          )
        }
      >
        <button
          type="button"
          className="evening-name"
          aria-label={phrase(terms.toldChooseTheNight, { told: told?.words?.text ?? common.tonight })}
          aria-expanded={open}
        >
          {told?.words?.text ?? common.tonight}
        </button>
      </Popover>
      <button
        type="button"
        aria-label={terms.aNightLater}
        disabled={!told?.later}
        onClick={() => go(told?.later)}
      >
        ›
      </button>
    </fieldset>
  );
}

interface Props {
  told: EveningChoice;
  go: (day: string | null | undefined) => void;
  tonight: () => void;
}

function Month({ told, go, tonight }: Props) {
  const grid = useRef<HTMLFieldSetElement>(null);
  const [typed, setTyped] = useState("");
  const chosen = told.evenings.findIndex((one) => one.day === told.day);
  const step = (by: number) => {
    const cells = grid.current?.querySelectorAll("button") ?? [];
    const at = [...cells].indexOf(document.activeElement as HTMLButtonElement);
    cells[Math.min(cells.length - 1, Math.max(0, (at < 0 ? chosen : at) + by))]?.focus();
  };
  const moves: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -7, ArrowDown: 7 };
  return (
    <div className="evening-month">
      <div className="evening-head">
        <button
          type="button"
          aria-label={terms.aMonthEarlier}
          disabled={!told.month_before}
          onClick={() => go(told.month_before)}
        >
          ‹
        </button>
        <strong>{told.month}</strong>
        <button
          type="button"
          aria-label={terms.aMonthLater}
          disabled={!told.month_after}
          onClick={() => go(told.month_after)}
        >
          ›
        </button>
      </div>
      <fieldset
        ref={grid}
        className="evening-grid"
        aria-label={phrase(terms.eveningsOfMonth, { month: told.month })}
        onKeyDown={(event) => {
          const by = moves[event.key];
          if (by === undefined) return;
          event.preventDefault();
          step(by);
        }}
      >
        {DAYS.map((day) => (
          <span key={day} className="evening-weekday" aria-hidden="true">
            {day}
          </span>
        ))}
        {told.evenings.map((one, i) => (
          <button
            key={one.day}
            type="button"
            tabIndex={i === chosen ? 0 : -1}
            className={one.month ? "" : "evening-beside"}
            aria-label={one.words.text}
            aria-pressed={one.day === told.day}
            data-tonight={one.day === told.tonight || undefined}
            onClick={() => go(one.day)}
          >
            {one.number}
            <Disc lit={one.lit} waxing={one.waxing} />
          </button>
        ))}
      </fieldset>
      <div className="evening-jumps">
        <button type="button" disabled={told.is_tonight} onClick={tonight}>
          {common.tonight2}
        </button>
        <button type="button" disabled={!told.new_moon_before} onClick={() => go(told.new_moon_before)}>
          {terms.newMoonBefore}
        </button>
        <button type="button" disabled={!told.new_moon_after} onClick={() => go(told.new_moon_after)}>
          {terms.nextNewMoon}
        </button>
      </div>
      <form
        className="evening-typed"
        onSubmit={(event) => {
          event.preventDefault();
          event.stopPropagation(); // it may stand within another form
          go(aDay(typed));
        }}
      >
        <label>
          {common.eveningOf}{" "}
          <input
            value={typed}
            placeholder={told.day}
            inputMode="numeric"
            size={11}
            maxLength={10}
            onChange={(event) => setTyped(event.target.value.trim())}
          />
        </label>
        <button type="submit">{terms.go}</button>
        <span className="quiet">
          <Says text={told.moon} />
        </span>
      </form>
    </div>
  );
}
