import { App } from 'antd';
import type { Step } from '../api/types';
import type { Draft } from './draft/useDraft';
import {
  addBefore,
  addStep,
  asText,
  duplicate,
  fromText,
  moved,
  paste,
  removeStep,
  switched,
  unwrap,
  wrap,
  type NewStep,
} from './edits';
import { kindOf, kinds } from './kinds';
import { outlineRows, seen } from './outlineRows';
import { allSteps, armsOf, isBlock, stepOf } from './tree';
import type { Look } from './useLook';

/** What can be done to the outline at the row looked at; the look follows. */
export function useEdits(draft: Draft, look: Look) {
  const { message } = App.useApp();
  const step = stepOf(draft.flow, look.step);
  const isArm = look.key !== look.step;
  /** Changes the flow, and looks at the first step that is new. */
  const adding = (change: (flow: Draft['flow']) => Draft['flow']) => {
    const known = new Set(allSteps(draft.flow.steps).map((s) => s.id));
    const next = change(draft.flow);
    draft.change(change);
    look.at(allSteps(next.steps).find((s) => !known.has(s.id))?.id);
  };
  /** A new block without steps is gone into: the next step added stands inside. */
  const fresh = (s: NewStep, before: Step[]): NewStep => {
    const kind = kinds.find((k) => k.kind === s.kind);
    const given = kind?.freshAfter?.(before);
    return given ? { ...given, ...s } : s;
  };
  const stepsBefore = () => {
    const all = allSteps(draft.flow.steps);
    return all.slice(0, all.findIndex((s) => s.id === look.step) + 1);
  };
  return {
    canChange: !!step && !isArm,
    isBlock: !!step && isBlock(step),
    add: (s: NewStep) => adding((flow) => addStep(flow, fresh(s, stepsBefore()), inside(step, look.key))),
    addBefore: (s: NewStep) => look.step && adding((flow) => addBefore(flow, s, look.step ?? '')),
    wrapIn: (kind: Step['kind']) => look.step && adding((flow) => wrap(flow, look.step ?? '', kind)),
    unwrap: () => {
      if (!step || !isBlock(step)) return;
      const first = armsOf(step).flatMap((a) => a.steps)[0]?.id;
      draft.change((flow) => unwrap(flow, step.id));
      look.at(first);
    },
    remove: () => {
      if (!step) return;
      const rows = seen(outlineRows(draft.flow, (s) => kindOf(s).title(s)));
      const at = rows.findIndex((r) => r.key === step.id);
      draft.change((flow) => removeStep(flow, step.id));
      look.at(rows[Math.max(0, at - 1)]?.key);
    },
    duplicate: () => step && adding((flow) => duplicate(flow, step.id)),
    switchOff: () => step && draft.change((flow) => switched(flow, step.id)),
    move: (by: number) => step && draft.change((flow) => moved(flow, step.id, by)),
    copy: () => {
      if (!step) return;
      void navigator.clipboard?.writeText(asText(step)).then(() => message.info('Copied the step as text', 2));
    },
    /** @return whether the text held steps */
    paste: (text: string) => {
      const steps = fromText(
        text,
        kinds.map((k) => k.kind),
      );
      if (steps.length) adding((flow) => paste(flow, steps, look.key));
      return steps.length > 0;
    },
  };
}
export type Edits = ReturnType<typeof useEdits>;

/** An empty block looked at is gone into; anything else is added after the row. */
function inside(step: Step | undefined, key: string | undefined): string | undefined {
  const first = step && key === step.id ? armsOf(step)[0] : undefined;
  return first && !first.title && first.steps.length === 0 ? `${step?.id}/${first.name}` : key;
}
