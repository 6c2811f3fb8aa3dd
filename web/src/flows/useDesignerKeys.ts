import { useEffect, useEffectEvent } from 'react';
import { ADD_STEP_ID } from './AddStep';
import type { Draft } from './draft/useDraft';
import type { Look } from './useLook';

/** The designer's keys: j and k through the steps, [ and ] through the records, a adds a step, Ctrl Z undoes. */
export function useDesignerKeys(draft: Draft, look: Look) {
  const key = useEffectEvent((e: KeyboardEvent) => {
    const typing = (e.target as HTMLElement).closest('input, textarea, [contenteditable]');
    if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'z' && !typing) {
      e.preventDefault();
      if (e.shiftKey) draft.redo();
      else draft.undo();
      return;
    }
    if (typing || e.ctrlKey || e.metaKey || e.altKey) return;
    const deeds: Record<string, () => void> = {
      a: () => document.getElementById(ADD_STEP_ID)?.click(),
      j: () => look.move(1),
      k: () => look.move(-1),
      '[': () => look.record(look.number - 1),
      ']': () => look.record(look.number + 1),
    };
    const deed = deeds[e.key];
    if (deed) {
      e.preventDefault();
      deed();
    }
  });
  useEffect(() => {
    const on = (e: KeyboardEvent) => key(e);
    addEventListener('keydown', on);
    return () => removeEventListener('keydown', on);
  }, []);
}
