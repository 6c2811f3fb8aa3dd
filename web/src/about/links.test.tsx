import { isValidElement } from 'react';
import { describe, expect, it } from 'vitest';
import { linked } from './links';

const addresses = (text: string) =>
  linked(text).flatMap((p) => (isValidElement<{ href: string }>(p) ? [p.props.href] : []));

describe('notes', () => {
  it('have their addresses as links, without the punctuation after them', () => {
    expect(addresses('See http://127.0.0.1/tides, and (https://tallow.example/a?b=1).')).toEqual([
      'http://127.0.0.1/tides',
      'https://tallow.example/a?b=1',
    ]);
  });
  it('link to nothing but addresses of the web', () => {
    expect(addresses('javascript:alert(1) file:///etc/passwd data:text/html,x')).toEqual([]);
    expect(linked('no address')).toEqual(['no address']);
  });
});
