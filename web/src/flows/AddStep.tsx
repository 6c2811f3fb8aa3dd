import { Input } from 'antd';
import { useEffect, useRef, useState, type CSSProperties } from 'react';
import { useContracts } from '../contracts';
import { useSources, useTargets } from '../data';
import type { NewStep } from './edits';
import { fuzzy } from './fill';
import { kinds } from './kinds';
import { floating } from '../common/place';
import css from './AddStep.module.css';

export const ADD_STEP_ID = 'add-step';
const MOST = 12;
/** The list's largest height. */
const OFFERS_PX = 350;

/** Something that can stand at a place: a kind of step, or one with what it is about. */
interface Offer {
  key: string;
  kind: string;
  name: string;
  about: string;
  step: NewStep;
}

/** What may be added: every kind; a source to be looked up in, a target to be written to. */
function useOffers(hasRead: boolean, isInside: boolean): Offer[] {
  const sources = useSources().data ?? [];
  const targets = useTargets().data ?? [];
  const contracts = useContracts().data ?? [];
  const offers: Offer[] = [
    ...kinds
      .filter((k) => (k.kind !== 'read' && k.kind !== 'receive') || !hasRead)
      .filter((k) => k.kind !== 'gather' || (hasRead && !isInside))
      .map((k): Offer => ({ key: k.kind, kind: k.kind, name: '', about: k.about, step: k.fresh })),
    ...contracts.map((c): Offer => ({
      key: `call ${c.name}`,
      kind: 'call',
      name: c.name,
      about: 'call one of its operations',
      step: { kind: 'call', contract: c.name, fill: [] },
    })),
    ...targets.map((t): Offer => ({
      key: `write ${t.name}`,
      kind: 'write',
      name: t.name,
      about: 'write rows to this target',
      step: { kind: 'write', target: t.name },
    })),
    ...sources.map((s): Offer => ({
      key: `look-up ${s.name}`,
      kind: hasRead ? 'look-up' : 'read',
      name: s.name,
      about: hasRead ? 'find its records by a key' : 'read its records',
      step: hasRead ? { kind: 'look-up', source: s.name } : { kind: 'read', source: s.name },
    })),
  ];
  return offers;
}

/** The kinds that fit what is typed, the best first; with nothing typed every kind. */
export function fitting<T extends { kind: string; name: string; about: string }>(all: T[], typed: string): T[] {
  if (!typed.trim()) return all.filter((o) => !o.name);
  return all
    .map((o) => ({ o, score: Math.max(fuzzy(typed, o.kind) * 2, fuzzy(typed, o.name || o.about)) }))
    .filter((x) => x.score > 0)
    .sort((a, b) => b.score - a.score)
    .slice(0, MOST)
    .map((x) => x.o);
}

interface Props {
  /** Where it will stand, in words. */
  place: string;
  hasRead: boolean;
  /** Whether that is inside a block. */
  isInside: boolean;
  add: (step: NewStep) => void;
  /** Puts a block around the step looked at; absent where there is none. */
  wrapIn?: (kind: string) => void;
  blocks: readonly string[];
}

/** Adds a step: a few letters of what it does or is about, then Enter. */
export function AddStep({ place, hasRead, isInside, add, wrapIn, blocks }: Props) {
  const [open, setOpen] = useState(false);
  return (
    <div className={css.inset}>
      {open ? (
        <Picker
          place={place}
          hasRead={hasRead}
          isInside={isInside}
          add={add}
          wrapIn={wrapIn}
          blocks={blocks}
          close={() => setOpen(false)}
        />
      ) : (
        <button className="link soft" id={ADD_STEP_ID} onClick={() => setOpen(true)}>
          add a step <kbd>a</kbd>
        </button>
      )}
    </div>
  );
}

function Picker({ place, hasRead, isInside, add, wrapIn, blocks, close }: Props & { close: () => void }) {
  const [typed, setTyped] = useState('');
  const [at, setAt] = useState(0);
  const list = useRef<HTMLDivElement>(null);
  const frame = useRef<HTMLDivElement>(null);
  const [spot, setSpot] = useState<CSSProperties>();
  // Beside the outline there is room for a sentence each.
  useEffect(() => {
    frame.current?.scrollIntoView({ block: 'nearest' });
    const box = frame.current?.getBoundingClientRect();
    if (box) setSpot(floating(box, OFFERS_PX));
  }, []);
  const offers = fitting(useOffers(hasRead, isInside), typed);
  const chosen = offers[Math.min(at, offers.length - 1)];
  useEffect(() => {
    list.current?.querySelector('[aria-selected=true]')?.scrollIntoView({ block: 'nearest' });
  }, [at, typed]);
  const take = (o: Offer | undefined, isWrap: boolean) => {
    if (!o) return;
    if (isWrap && wrapIn && blocks.includes(o.kind)) wrapIn(o.kind);
    else add(o.step);
    close();
  };
  return (
    <div className={css.picker} ref={frame}>
      <span className="soft small">{place}</span>
      <Input
        autoFocus
        size="small"
        role="combobox"
        aria-label="what the step does"
        aria-expanded
        aria-controls="step-offers"
        placeholder="type what it does"
        value={typed}
        onChange={(e) => {
          setTyped(e.target.value);
          setAt(0);
        }}
        onBlur={(e) => {
          if (!list.current?.contains(e.relatedTarget)) close();
        }}
        onKeyDown={(e) => {
          if (e.key === 'ArrowDown') setAt(Math.min(offers.length - 1, at + 1));
          else if (e.key === 'ArrowUp') setAt(Math.max(0, at - 1));
          else if (e.key === 'Enter') take(chosen, e.shiftKey);
          else if (e.key === 'Escape') close();
          else return;
          e.preventDefault();
          e.stopPropagation();
        }}
      />
      <div
        className={css.offers}
        style={spot}
        id="step-offers"
        role="listbox"
        aria-label="steps that can stand here"
        ref={list}
      >
        {offers.map((o) => (
          <button
            key={o.key}
            role="option"
            aria-selected={o === chosen}
            className={`${css.offer} ${o === chosen ? css.on : ''}`}
            onMouseDown={(e) => e.preventDefault()}
            onClick={() => take(o, false)}
          >
            <span className={css.kind}>{o.kind}</span>
            <span className="cut">
              {o.name && <b className="strong">{o.name} </b>}
              <span className="soft">{o.about}</span>
            </span>
          </button>
        ))}
        {offers.length === 0 && <div className={`soft small ${css.none}`}>Nothing that can stand here fits.</div>}
        <div className={`soft small ${css.keys}`}>
          <kbd>Enter</kbd> add
          {wrapIn && (
            <>
              {' '}
              <kbd>⇧Enter</kbd> put a block around
            </>
          )}{' '}
          <kbd>Esc</kbd> leave
        </div>
      </div>
    </div>
  );
}
