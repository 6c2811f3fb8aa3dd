import { describe, expect, it } from 'vitest';
import type { FlowView } from '../../api/types';
import { addStep } from '../edits';
import { reduce, start, text, type Doc } from './document';

const view: FlowView = {
  id: 1,
  name: 'Tide windows',
  version: 3,
  changedAt: '2031-04-02T10:00:00Z',
  definition: { steps: [{ id: 's1', kind: 'read' }] },
};
const rename = (name: string) => ({ do: 'change', change: (d: Doc) => ({ ...d, name }) }) as const;

describe('the document on screen', () => {
  it('is changed by what there is when the change happens', () => {
    const check = (d: Doc) => ({ ...d, flow: addStep(d.flow, { kind: 'check' }, undefined) });
    const twice = [check, check].reduce((s, change) => reduce(s, { do: 'change', change }), start(view));
    expect(twice.doc.flow.steps.map((s) => s.id)).toEqual(['s1', 's2', 's3']);
  });
  it('is undone and done again, and a change ends what could be done again', () => {
    const s = [rename('a'), rename('b'), { do: 'undo' } as const].reduce(reduce, start(view));
    expect(s.doc.name).toBe('a');
    expect(reduce(s, { do: 'redo' }).doc.name).toBe('b');
    expect(reduce(s, rename('c')).future).toEqual([]);
    expect(reduce(start(view), { do: 'undo' }).doc.name).toBe('Tide windows');
  });
  it('takes what the server added, but not over what was typed meanwhile', () => {
    const sent = text(start(view).doc);
    const added = { name: 'Tide windows', flow: addStep(view.definition, { kind: 'write' }, undefined) };
    const saved = { do: 'saved', version: 4, sent, doc: added } as const;
    expect(reduce(start(view), saved).doc).toEqual(added);
    const typed = reduce(reduce(start(view), rename('new')), saved);
    expect(typed.doc.name).toBe('new');
    expect(typed.version).toBe(4);
    expect(text(typed.doc)).not.toBe(typed.savedAs);
  });
  it('is not changed by a change that changes nothing', () => {
    const s = start(view);
    expect(reduce(s, rename('Tide windows'))).toBe(s);
  });
});
