/** A night as it is being typed, and what becomes of it when the kept session changed meanwhile. */
import type { SessionShown, SessionSubs, WorkedMark } from "../api/types";
import { freshId } from "../kit/device";
import { terms as common } from "../terms/common";
import { terms } from "../terms/log";
import { phrase } from "../terms/phrase";

type Record = SessionShown["record"];
export type Loss = NonNullable<Record["losses"]>[number];

export interface Draft {
  night: string;
  rig: string | null;
  subs: SessionSubs[];
  losses: Loss[];
  people: string;
  note: string;
  temperature: number | null;
  seeing: number | null;
  words: string;
  marks: WorkedMark[];
}
export type Field = keyof Draft;

/** A night that no session is made of yet: its times are typed too, and its key makes it once. */
export interface NewNight extends Draft {
  key: string;
  from: string;
  until: string;
}

/** A changed session: as it is typed, as it was when that began, and the version it was then. */
export interface Change {
  version: number;
  was: Draft;
  draft: Draft;
  /** What both changed and nobody has chosen from yet. */
  clashes: Clash[];
}

/** Two changes of one field, each its own way. */
export interface Clash {
  field: Field;
  theirs: Draft[Field];
}

/** Of a sub nobody typed: as long as the rig's own. */
export const UNTYPED = -1;
export const NO_REASON = terms.noReasonNoted;
export const line = (): SessionSubs => ({
  target: "",
  name: "",
  filter: "",
  sub_s: UNTYPED,
  planned: 20,
  taken: 20,
  kept: 20,
});

export const blank = (night: string): NewNight => ({
  key: freshId(),
  from: "",
  until: "",
  rig: null,
  night,
  subs: [line()],
  losses: [],
  people: "",
  note: "",
  temperature: null,
  seeing: null,
  words: "",
  marks: [],
});

/** A kept session as it would have been typed. */
export const typed = (record: Record): Draft => ({
  night: record.night,
  rig: record.rig_id,
  subs: [...(record.subs ?? [])],
  losses: [...(record.losses ?? [])],
  people: (record.people ?? []).join(", "),
  note: record.note ?? "",
  temperature: record.conditions?.temperature_c ?? null,
  seeing: record.conditions?.seeing_arcsec ?? null,
  words: record.conditions?.words ?? "",
  marks: [...(record.marks ?? [])],
});

const people = (given: string) =>
  given
    .split(",")
    .map((one) => one.trim())
    .filter(Boolean);

const told = (losses: readonly Loss[]) => losses.map((one) => ({ ...one, why: one.why.trim() || NO_REASON }));

const kept = (draft: Draft) => ({
  losses: told(draft.losses),
  people: people(draft.people),
  note: draft.note,
  marks: draft.marks,
  conditions: { temperature_c: draft.temperature, seeing_arcsec: draft.seeing, words: draft.words },
});

/** A kept session with what was typed of it; what the form does not hold, or nobody touched, stays as it is. */
export function changed(record: Record, draft: Draft): Record {
  const now = kept(draft);
  return {
    ...record,
    ...now,
    night: draft.night,
    subs: draft.subs,
    // A name may hold a comma, which the form cannot tell from one between two names.
    people: draft.people === typed(record).people ? record.people : now.people,
    conditions: { ...record.conditions, ...now.conditions },
  };
}

/** What a new night is kept as. */
export const made = (draft: NewNight, rig: string, night: string) => ({
  ...kept(draft),
  rig_id: rig,
  night,
  from_clock: draft.from,
  until_clock: draft.until,
  subs: draft.subs.filter((one) => one.taken > 0),
});

/** Lines nobody chose a target or a length for are of the rig's first target, and as long as its own subs. */
export const filled = (
  subs: readonly SessionSubs[],
  first: { value: string; label: string } | undefined,
  own: number | null | undefined,
): SessionSubs[] =>
  subs.map((one) =>
    one.target && one.sub_s !== UNTYPED
      ? one
      : {
          ...one,
          target: one.target || first?.value || "",
          name: one.target ? one.name : (first?.label ?? ""),
          sub_s: one.sub_s === UNTYPED ? (own ?? UNTYPED) : one.sub_s,
        },
  );

/** So many were taken; as many were planned where nobody planned otherwise. */
export const withTaken = (one: SessionSubs, taken: number): SessionSubs => ({
  ...one,
  taken,
  kept: Math.min(one.kept, taken),
  planned: one.planned === one.taken ? taken : Math.max(one.planned, taken),
});

export const thrownAway = (subs: readonly SessionSubs[]) =>
  subs.reduce((all, one) => all + Math.max(0, one.taken - one.kept), 0);

/** The subs changed, and the losses with them while one reason holds all of them. */
export function withSubs<D extends Draft>(draft: D, subs: SessionSubs[]): D {
  const [before, now] = [thrownAway(draft.subs), thrownAway(subs)];
  const [only] = draft.losses;
  if (before === now || draft.losses.length > 1 || (only?.count ?? 0) !== before) return { ...draft, subs };
  return { ...draft, subs, losses: now > 0 ? [{ why: only?.why ?? NO_REASON, count: now }] : [] };
}

export function same(one: unknown, other: unknown): boolean {
  return JSON.stringify(one) === JSON.stringify(other);
}

export const isChanged = ({ was, draft }: Change) => !same(was, draft);
export const changedFields = ({ was, draft }: Change) =>
  (Object.keys(was) as Field[]).filter((field) => !same(was[field], draft[field]));

export const begun = (session: SessionShown): Change => {
  const was = typed(session.record);
  return { version: session.version, was, draft: was, clashes: [] };
};

/** A change as it was left in this browser; those of an earlier Dravel do not say what they were made on, so all is asked. */
export function takenUp(left: Partial<Change> & Partial<Draft>): Change {
  const { version = 0, was, draft, clashes = [] } = left;
  return was && draft
    ? { version, was, draft, clashes }
    : { version, was: {} as Draft, draft: left as Draft, clashes };
}

/**
 * A change over the session as it is kept now: what was changed in only one of the two is taken from it; where both changed a field,
 * each its own way, mine stands and theirs is to be chosen from.
 */
export function over(change: Change, theirs: Draft, version: number): Change {
  const { was, draft: mine } = change;
  const open = new Set(change.clashes.map((one) => one.field));
  const clashes: Clash[] = [];
  const both = { ...theirs };
  for (const field of Object.keys(theirs) as Field[]) {
    if (mine[field] === undefined || same(mine[field], was[field]) || same(mine[field], theirs[field]))
      continue;
    put(both, field, mine[field]);
    if (open.has(field) || !same(theirs[field], was[field])) clashes.push({ field, theirs: theirs[field] });
  }
  return { version, was: theirs, draft: both, clashes };
}

/** One of two is chosen. */
export function chosen(change: Change, { field, theirs }: Clash, mine: boolean): Change {
  const draft = { ...change.draft };
  if (!mine) put(draft, field, theirs);
  return { ...change, draft, clashes: change.clashes.filter((one) => one.field !== field) };
}

function put<F extends Field>(draft: Draft, field: F, value: Draft[F]) {
  draft[field] = value;
}

export const TITLES: { readonly [F in Field]: string } = {
  night: terms.evening,
  rig: common.rig2,
  subs: terms.subs,
  losses: terms.rejectedSubs,
  people: terms.whoWasThere,
  note: terms.notes,
  temperature: terms.temperature,
  seeing: terms.seeing,
  words: terms.howTheNightWas,
  marks: terms.whatWasMarked,
};

/** A field's value in words, to choose by. */
export function inWords(draft: Draft, field: Field): string {
  switch (field) {
    case "subs":
      return draft.subs
        .map((one) =>
          phrase(terms.nameFilterKeptOfTakenSub, {
            name: one.name || one.target,
            filter: one.filter || common.noFilter,
            kept: one.kept,
            taken: one.taken,
            sub_s: one.sub_s,
          }),
        )
        .join("; ");
    case "losses":
      return draft.losses.map((one) => `${one.count}: ${one.why}`).join("; ");
    case "marks":
      return draft.marks.map((one) => `${one.sort.replace("_", " ")} ${one.value}`).join("; ");
    default:
      return draft[field] === null ? "" : String(draft[field]);
  }
}
