import { describe, expect, it } from 'vitest';
import { pretty } from './layout';

describe('laid-out XML', () => {
  it('has a line an element and keeps texts', () => {
    expect(pretty('<a><b>1 2</b><c/><d></d><e><f x="1">t</f></e></a>')).toBe(
      '<a>\n  <b>1 2</b>\n  <c/>\n  <d></d>\n  <e>\n    <f x="1">t</f>\n  </e>\n</a>',
    );
  });
  it('leaves what is no XML alone, and ends on broken XML', () => {
    expect(pretty('Service unavailable')).toBe('Service unavailable');
    expect(pretty('<a><b></a></b></c>')).toContain('<a>');
    expect(pretty('<?xml version="1.0"?>\n<a/>')).toBe('<?xml version="1.0"?>\n<a/>');
  });
});

describe('laid-out JSON and requests', () => {
  it('have a line a member, and keep every number and text as it was', () => {
    expect(pretty('{"a":12.50,"b":[1,{"c":"x, {y"}],"d":[],"e":1e400}')).toBe(
      '{\n  "a": 12.50,\n  "b": [\n    1,\n    {\n      "c": "x, {y"\n    }\n  ],\n  "d": [],\n  "e": 1e400\n}',
    );
  });
  it('keep the head of a request', () => {
    expect(pretty('POST /crews/7\nX-Agency: sole\n\n{"a":1}')).toBe('POST /crews/7\nX-Agency: sole\n\n{\n  "a": 1\n}');
    expect(pretty('GET /crews')).toBe('GET /crews');
  });
  it('end on what is no JSON', () => {
    expect(pretty('{"a": "')).toContain('"a"');
    expect(pretty('[}]')).toContain('[');
  });
});
