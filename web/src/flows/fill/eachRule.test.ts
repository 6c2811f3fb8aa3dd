import { expect, it } from 'vitest';
import { repeated, takenApart } from './eachRule';

const all = { where: '', order: '', descending: false };

it('puts a condition and an order around what is repeated over', () => {
  expect(repeated({ over: 'line', ...all })).toBe('line');
  expect(repeated({ over: 'line', ...all, where: 'weight > 3' })).toBe('line[weight > 3]');
  expect(repeated({ over: 'a, b', ...all, where: '. > 3' })).toBe('(a, b)[. > 3]');
  expect(repeated({ over: 'line', where: 'weight > 3', order: 'number(no)', descending: true })).toBe(
    'reverse(sort(line[weight > 3], (), function($item) { $item/(number(no)) }))',
  );
});

it('takes apart what it put together, whatever stands in it', () => {
  for (const where of ['', "note != ']'", 'item[2] = 1', '. > 3'])
    for (const order of ['', 'no', "concat(a, ') })')"])
      for (const over of ['line', '$record/order/line', 'line[1]/part', 'a, b', '(a | b)/c'])
        for (const descending of order ? [true, false] : [false]) {
          const repeat = { over, where, order, descending };
          expect(repeated(takenApart(repeated(repeat)))).toBe(repeated(repeat));
        }
  expect(takenApart('line[weight > 3]')).toEqual({ ...all, over: 'line', where: 'weight > 3' });
  expect(takenApart('sort(line, (), function($item) { $item/(no) })')).toEqual({ ...all, over: 'line', order: 'no' });
});

it('leaves what was written by hand as it is', () => {
  for (const over of ['line[2]', 'for $i in line return $i', 'sort(line)', 'reverse(line)', 'f(a)[', 'x]'])
    expect(takenApart(over)).toEqual({ ...all, over });
});
