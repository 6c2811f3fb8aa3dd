import type { Draft } from '../settings';

/** A way of logging in: what is kept of it, and what it needs beside. */
export interface Way {
  value: string;
  label: string;
  way: Pick<Draft, 'logIn' | 'token'>;
  hasUser: boolean;
  /** What its secret is called. */
  secret: string;
  hint?: string;
}

export const WAYS: Way[] = [
  { value: 'basic', label: 'HTTP Basic', way: {}, hasUser: true, secret: 'password' },
  {
    value: 'asked',
    label: 'HTTP Basic, when asked',
    way: { logIn: 'asked' },
    hasUser: true,
    secret: 'password',
    hint: 'Each call is asked for it first.',
  },
  {
    value: 'digest',
    label: 'HTTP Digest',
    way: { logIn: 'digest' },
    hasUser: true,
    secret: 'password',
    hint: 'Each call is asked for it first.',
  },
  {
    value: 'ntlm',
    label: 'NTLM',
    way: { logIn: 'ntlm' },
    hasUser: true,
    secret: 'password',
    hint: 'Version 2; each network connection is asked once.',
  },
  { value: 'bearer', label: 'bearer token', way: { logIn: 'bearer' }, hasUser: false, secret: 'token' },
  { value: 'key', label: 'key in a header', way: { logIn: 'key' }, hasUser: false, secret: 'key' },
  { value: 'query', label: 'key in the address', way: { logIn: 'query' }, hasUser: false, secret: 'key' },
  {
    value: 'oauth',
    label: 'OAuth 2, client credentials',
    way: { logIn: 'oauth' },
    hasUser: true,
    secret: 'client secret',
  },
  {
    value: 'wss-text',
    label: 'WS-Security token, password as text',
    way: { token: 'text' },
    hasUser: true,
    secret: 'password',
  },
  {
    value: 'wss-digest',
    label: 'WS-Security token, password digest',
    way: { token: 'digest' },
    hasUser: true,
    secret: 'password',
  },
];

export const wayOf = (s: Draft): Way =>
  WAYS.find((w) => (s.token ? w.way.token === s.token : !w.way.token && w.way.logIn === (s.logIn ?? undefined))) ??
  WAYS[0];
