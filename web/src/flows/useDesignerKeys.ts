import { useEffect, useEffectEvent } from 'react';
import { ADD_STEP_ID } from './AddStep';
import type { Draft } from './draft/useDraft';
import type { Edits } from './useEdits';
import type { Look } from './useLook';

const TYPING = 'input, textarea, [contenteditable]';

/**
 * The designer's keys: j and k or the arrows through the outline, [ and ] through the records, a adds a step, w puts a
 * block around it, u takes it away, d duplicates, x switches off, Alt with an arrow moves, Ctrl Z undoes.
 */
export function useDesignerKeys(draft: Draft, look: Look, edits: Edits) {
  const key = useEffectEvent((e: KeyboardEvent) => {
    const target = e.target as HTMLElement;
    const typing = target.closest(TYPING);
    if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'z' && !typing) {
      e.preventDefault();
      if (e.shiftKey) draft.redo();
      else draft.undo();
      return;
    }
    if (typing || e.ctrlKey || e.metaKey) return;
    const inOutline = target === document.body || !!target.closest('[role=tree]');
    const deed = e.altKey ? ALT[e.key]?.(edits) : plain(e.key, look, edits, inOutline);
    if (deed) {
      e.preventDefault();
      deed();
    }
  });
  const copied = useEffectEvent((e: ClipboardEvent) => {
    const isText = (e.target as HTMLElement).closest(TYPING) || !document.getSelection()?.isCollapsed;
    if (!isText && edits.canChange) edits.copy();
  });
  const pasted = useEffectEvent((e: ClipboardEvent) => {
    if ((e.target as HTMLElement).closest(TYPING)) return;
    if (edits.paste(e.clipboardData?.getData('text/plain') ?? '')) e.preventDefault();
  });
  useEffect(() => {
    const down = (e: KeyboardEvent) => key(e);
    const copy = (e: ClipboardEvent) => copied(e);
    const paste = (e: ClipboardEvent) => pasted(e);
    addEventListener('keydown', down);
    addEventListener('copy', copy);
    addEventListener('paste', paste);
    return () => {
      removeEventListener('keydown', down);
      removeEventListener('copy', copy);
      removeEventListener('paste', paste);
    };
  }, []);
}

type Deed = () => unknown;

const ALT: Record<string, (edits: Edits) => Deed> = {
  ArrowUp: (edits) => () => edits.move(-1),
  ArrowDown: (edits) => () => edits.move(1),
};

function plain(key: string, look: Look, edits: Edits, inOutline: boolean): Deed | undefined {
  const add = () => document.getElementById(ADD_STEP_ID)?.click();
  const deeds: Record<string, Deed> = {
    a: add,
    w: add,
    u: edits.unwrap,
    d: edits.duplicate,
    x: edits.switchOff,
    j: () => look.move(1),
    k: () => look.move(-1),
    '[': () => look.record(look.number - 1),
    ']': () => look.record(look.number + 1),
    ...(inOutline ? { ArrowDown: () => look.move(1), ArrowUp: () => look.move(-1), Delete: edits.remove } : {}),
  };
  return deeds[key];
}
