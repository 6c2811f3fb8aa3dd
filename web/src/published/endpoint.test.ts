import { expect, test } from 'vitest';
import type { QueueTrigger } from '../api/types';
import {
  askedBy,
  brief,
  endpointChangeOf,
  freshEndpoint,
  outcomeOf,
  parted,
  partOf,
  pathOf,
  placed,
  placeOf,
  sampleOfTyped,
  share,
  typedOf,
  whereOf,
  wordOf,
} from './endpoint';

const http = { method: 'POST', path: '/berths/{port}/free' };

test('inputs come from where one expects, unless said', () => {
  expect(placeOf(http, 'port').in).toBe('PATH');
  expect(placeOf(http, 'draught').in).toBe('BODY');
  expect(placeOf({ ...http, method: 'GET' }, 'draught').in).toBe('QUERY');
  const to = placed(http, 'agency', { in: 'HEADER', name: 'X-Agency' });
  expect(to.places).toEqual([{ input: 'agency', in: 'HEADER', name: 'X-Agency' }]);
  expect(placed(to, 'agency', { in: 'BODY', name: 'agency' }).places).toEqual([]);
});

test('nothing is told before there are a name, a flow and a path', () => {
  expect(endpointChangeOf(freshEndpoint('test'))).toBeUndefined();
  expect(endpointChangeOf(freshEndpoint('test', 3, 'Free berths'))).toMatchObject({
    flow: 3,
    http: { path: '/free-berths' },
  });
  expect(pathOf('Größe, 2!')).toBe('/gr-e-2');
});

test('what is typed is sent by its type, and as text where it does not fit', () => {
  const inputs = [
    { name: 'draught', type: 'decimal' },
    { name: 'port', type: 'string' },
    { name: 'cargo', type: 'nested', many: true },
  ];
  const json = sampleOfTyped(inputs, { draught: '7.20', port: '12', cargo: '[{"code": "A"}]', note: '' });
  expect(json.replace(/\s+/g, '')).toBe('{"draught":7.20,"port":"12","cargo":[{"code":"A"}]}');
  expect(typedOf(json)).toEqual({ draught: '7.20', port: '12', cargo: '[{"code":"A"}]' });
  expect(sampleOfTyped(inputs, { draught: '7,2' })).toContain('"7,2"');
  expect(typedOf('{')).toEqual({});
});

test('times and shares in a few characters', () => {
  expect([brief(200), brief(41_200), brief(4_200_000)]).toEqual(['< 1 ms', '41 ms', '4.2 s']);
  expect([share(0, 5), share(1, 3000), share(3, 1000), share(18, 100), share(0, 0)]).toEqual([
    '0',
    '< 0.1 %',
    '0.3 %',
    '18 %',
    '',
  ]);
});

test('a flow is asked the other way by the same people', () => {
  const d = {
    ...freshEndpoint('test', 3, 'Free berths'),
    http: { method: 'GET', path: '/x', open: true, text: 'why' },
  };
  const soap = askedBy(d, 'soap', 'Free berths of 2031');
  expect(soap.http).toBeUndefined();
  expect(soap.soap).toEqual({ service: 'FreeBerthsOf2031', operation: 'FreeBerthsOf2031', open: true, text: 'why' });
  expect(askedBy(d, 'soap', '3 berths', 'GetTideWindow').soap?.operation).toBe('GetTideWindow');
  expect(wordOf('3 berths')).toBe('S3Berths');
  expect(askedBy(soap, 'http', 'Free berths').http).toEqual({
    method: 'POST',
    path: '/free-berths',
    open: true,
    text: 'why',
  });
  expect(whereOf(soap)).toBe('/soap/FreeBerthsOf2031 FreeBerthsOf2031');
  expect(endpointChangeOf({ ...soap, soap: { service: ' ', operation: 'x' } })).toBeUndefined();
});

test('what is asked over HTTP can take messages instead, and is kept once its queue is named', () => {
  const http = { ...freshEndpoint('test', 7, 'Pilot wishes'), version: 3 };
  const queue = askedBy({ ...http, http: { method: 'GET', path: '/w', text: 'wishes' } }, 'queue', 'Pilot wishes');
  expect(queue).toMatchObject({ http: undefined, queue: { text: 'wishes' }, version: 3 });
  expect(endpointChangeOf(queue)).toBeUndefined();
  const named = { ...queue, queue: { connection: 'harbour-queues', queue: 'wanted', replies: 'booked' } };
  expect(endpointChangeOf(named)?.queue?.queue).toBe('wanted');
  expect(whereOf(named)).toBe('wanted → booked');
});

test('an input is a member of the body unless it is said to come from elsewhere', () => {
  const of: QueueTrigger = { connection: 'c', queue: 'q' };
  expect(partOf(of, 'port')).toEqual({ in: 'BODY', name: 'port' });
  const property = parted(of, 'port', { in: 'PROPERTY', name: 'harbour' });
  expect(partOf(property, 'port')).toEqual({ in: 'PROPERTY', name: 'harbour' });
  expect(parted(property, 'port', { in: 'WHOLE', name: 'harbour' }).places).toEqual([{ input: 'port', in: 'WHOLE' }]);
  expect(parted(property, 'port', { in: 'BODY', name: '' }).places).toEqual([]);
});

test('what came of a message is told in words, of a request by its status', () => {
  expect(outcomeOf('http', 404)).toEqual({ words: '404', mood: 'warn' });
  expect([200, 204, 422, 504].map((s) => outcomeOf('queue', s).words)).toEqual([
    'answered',
    'done, without an answer',
    'failed',
    'no answer',
  ]);
});
