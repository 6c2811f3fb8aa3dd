import { expect, it } from 'vitest';
import { sums, treeOf, type TrailEvent, type TrailItem } from './trail';

const event = (path: string, request?: string): TrailEvent => ({
  path,
  step: '',
  kind: '',
  title: '',
  atMillis: 0,
  micros: 100,
  request,
});

const words = (items: TrailItem[]): unknown[] =>
  items.map((i) => ('part' in i ? [`${i.part.each} ${i.part.number}`, ...words(i.part.items)] : i.event.path));

it('what belongs to a part stands inside it, parts of parts too', () => {
  const events = ['s1', 's4[1]/s5', 's4[1]/s6[2]/s7', 's4[1]/s6[3]/s7', 's4[2]/s5', 's9'].map((p) => event(p));
  expect(words(treeOf(events))).toEqual([
    's1',
    ['s4 1', 's4[1]/s5', ['s6 2', 's4[1]/s6[2]/s7'], ['s6 3', 's4[1]/s6[3]/s7']],
    ['s4 2', 's4[2]/s5'],
    's9',
  ]);
});

it('a part tells its calls and their time, those of its parts included', () => {
  const [part] = treeOf([event('e[1]/c', '<q/>'), event('e[1]/f[2]/c', '<q/>'), event('e[1]/s')]);
  expect('part' in part && sums(part.part)).toEqual({ calls: 2, micros: 300 });
});
