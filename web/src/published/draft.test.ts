import { expect, test } from 'vitest';
import { changeOf, daysOf, fresh, until, whenOf, withWhen } from './draft';

test('nothing is told before there are a name and a flow', () => {
  const d = fresh('test');
  expect(changeOf(d)).toBeUndefined();
  expect(changeOf({ ...d, name: 'nightly' })).toBeUndefined();
  expect(changeOf({ ...d, name: 'nightly', flow: 3 })).toMatchObject({ kind: 'schedule', flow: 3, on: true });
});

test('a schedule has one way to say when, and the rest stays', () => {
  const clock = { ...fresh('test').settings, zone: 'Europe/Oslo', daysOff: ['2031-12-24'] };
  const minutes = withWhen(clock, 'minutes');
  expect(whenOf(minutes)).toBe('minutes');
  expect(minutes).toMatchObject({ minutes: 15, zone: 'Europe/Oslo', daysOff: ['2031-12-24'] });
  expect('cron' in minutes).toBe(false);
  expect(withWhen(minutes, 'clock')).toMatchObject({ cron: '0 2 * * *' });
});

test('days are apart by commas, blanks or lines', () => {
  expect(daysOf(' 2031-12-24/2031-12-26, 2032-01-01\n2032-05-01 ')).toEqual([
    '2031-12-24/2031-12-26',
    '2032-01-01',
    '2032-05-01',
  ]);
  expect(daysOf('  ')).toEqual([]);
});

test('how long it is until then', () => {
  const now = Date.parse('2031-04-02T14:03:00Z');
  const at = (iso: string) => until(iso, now);
  expect(at('2031-04-02T14:03:20Z')).toBe('now');
  expect(at('2031-04-02T14:15:00Z')).toBe('in 12 min');
  expect(at('2031-04-03T02:00:00Z')).toBe('in 11 h 57 min');
  expect(at('2031-04-02T16:03:00Z')).toBe('in 2 h');
  expect(at('2031-04-07T16:03:00Z')).toBe('in 5 d 2 h');
});
