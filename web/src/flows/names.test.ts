import { expect, it } from 'vitest';
import { namesOf, partName } from './names';
import type { Where } from './where';

const variable = (name: string, field: string, text: string) => ({
  name,
  items: 1,
  values: [{ name, children: [{ name: field, text }] }],
});

it('inside an each the part is what names without a variable mean, and every variable is offered', () => {
  const before = [variable('record', 'station', 'OUTER'), variable('order', 'vessel', 'Grey Plover')];
  const names = namesOf(before, 'order', undefined);
  expect(names?.children?.map((c) => c.name)).toEqual(['vessel', '$record', '$order']);
  expect(namesOf(before, undefined, undefined)?.children?.map((c) => c.name)).toEqual(['station', '$order']);
});

it('the innermost each names the part', () => {
  const where = {
    step: 'x',
    definition: {
      format: 2,
      steps: [
        {
          id: 'a',
          kind: 'each',
          as: 'batch',
          steps: [{ id: 'b', kind: 'each', as: 'order', steps: [{ id: 'x', kind: 'set' }] }],
        },
      ],
    },
  } as unknown as Where;
  expect(partName(where)).toBe('order');
  expect(partName({ ...where, step: 'b' })).toBe('batch');
  expect(partName({ ...where, step: 'a' })).toBeUndefined();
});
