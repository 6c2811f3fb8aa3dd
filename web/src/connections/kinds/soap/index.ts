import type { Group } from '../../cells/cell';
import { FreeHeadersCell } from '../../cells/FreeHeadersCell';
import { HeadersCell } from '../../cells/HeadersCell';
import { SignatureCell, SignedAnswersCell } from '../../cells/SignatureCells';
import { choiceCell, flagCell, numberCell, textCell } from '../../cells/simple';
import type { ConnectionKind } from '../kind';
import { TRUST } from '../trust';
import { HeaderRulesCell } from '../../cells/HeaderRulesCell';
import { LogInSecretCell, WayCell } from '../../cells/LogInCells';
import { RetriesCell } from '../../cells/RetriesCell';
import { MessageHeadersCell, SessionCell } from '../../cells/SessionCells';
import { TimestampCell } from '../../cells/TimestampCell';
import { ProxyCell, TimeOutsCell } from '../../cells/WayThereCells';
import { wayOf } from '../../cells/ways';

const WHERE: Group = {
  title: 'Where',
  rows: [
    {
      id: 'address',
      label: 'address',
      keys: ['url'],
      always: true,
      isApart: true,
      Cell: textCell('url', { label: 'address', id: 'address', placeholder: 'https://', isMono: true, isWide: true }),
    },
    {
      id: 'time-outs',
      label: 'time-outs',
      keys: ['connectTimeoutMillis', 'answerTimeoutMillis', 'callTimeoutMillis'],
      always: true,
      Cell: TimeOutsCell,
    },
    { id: 'proxy', label: 'proxy', keys: ['proxy', 'proxyUser', 'proxySecret', 'proxyExcept'], Cell: ProxyCell },
  ],
};

const WHO: Group = {
  title: 'Who we are',
  rows: [
    { id: 'way', label: 'log-in goes as', keys: ['logIn', 'token'], always: true, Cell: WayCell },
    {
      id: 'user',
      label: 'user',
      keys: ['user'],
      always: true,
      when: (s) => wayOf(s).hasUser,
      Cell: textCell('user', { label: 'user', id: 'user', placeholder: 'none: no log-in' }),
    },
    {
      id: 'domain',
      label: 'domain',
      keys: ['domain'],
      always: true,
      when: (s) => s.logIn === 'ntlm',
      Cell: textCell('domain', { label: 'domain', placeholder: 'the service’s own' }),
    },
    { id: 'secret', label: (s) => wayOf(s).secret, keys: ['secret'], always: true, Cell: LogInSecretCell },
    {
      id: 'keyName',
      label: 'carried by',
      keys: ['keyName'],
      always: true,
      when: (s) => s.logIn === 'key' || s.logIn === 'query',
      Cell: textCell('keyName', {
        label: 'header or parameter that carries the key',
        placeholder: 'X-Api-Key',
        isMono: true,
        after: 'the header, or the parameter of the address',
      }),
    },
    {
      id: 'tokenUrl',
      label: 'tokens are had at',
      keys: ['tokenUrl'],
      always: true,
      when: (s) => s.logIn === 'oauth',
      Cell: textCell('tokenUrl', {
        label: 'address where tokens are had',
        placeholder: 'https://…/token',
        isMono: true,
        isWide: true,
      }),
    },
    {
      id: 'scope',
      label: 'scope',
      keys: ['scope'],
      always: true,
      when: (s) => s.logIn === 'oauth',
      Cell: textCell('scope', { label: 'scope', placeholder: 'none', isMono: true }),
    },
    {
      id: 'audience',
      label: 'audience',
      keys: ['audience'],
      when: (s) => s.logIn === 'oauth',
      Cell: textCell('audience', { label: 'audience', placeholder: 'none', isMono: true }),
    },
  ],
};

const SESSION: Group = {
  title: 'Session',
  hint: 'one for all calls, had when it is needed',
  rows: [
    { id: 'session', label: 'log in by', word: 'session', keys: ['session'], Cell: SessionCell },
    {
      id: 'messageHeaders',
      label: 'headers',
      word: 'headers of the contract',
      keys: ['messageHeaders'],
      Cell: MessageHeadersCell,
    },
  ],
};

const MESSAGES: Group = {
  title: 'Messages',
  hint: 'what is added to them',
  rows: [
    { id: 'timestamp', label: 'timestamp', keys: ['timestamp', 'timestampSeconds'], Cell: TimestampCell },
    {
      id: 'signature',
      label: 'signed',
      word: 'signature',
      keys: ['signedParts', 'signingCertificate', 'keyReference'],
      Cell: SignatureCell,
    },
    {
      id: 'signedAnswers',
      label: 'answers signed',
      word: 'signatures of answers',
      keys: ['signedAnswers', 'skewSeconds'],
      Cell: SignedAnswersCell,
    },
    {
      id: 'addressing',
      label: 'WS-Addressing',
      keys: ['addressing'],
      Cell: flagCell('addressing', { label: 'WS-Addressing headers', after: 'To, Action, MessageID, ReplyTo' }),
    },
    {
      id: 'freeHeaders',
      label: 'free headers',
      word: 'free SOAP headers',
      keys: ['freeHeaders'],
      Cell: FreeHeadersCell,
    },
    {
      id: 'attachments',
      label: 'files go',
      word: 'files with requests',
      keys: ['attachments'],
      Cell: choiceCell('attachments', {
        label: 'how files go with requests',
        options: [
          { value: '', label: 'inside the message, in Base64' },
          { value: 'mtom', label: 'as MTOM' },
          { value: 'parts', label: 'as attachments (SwA)' },
        ],
      }),
    },
    {
      id: 'answerFiles',
      label: 'files come',
      word: 'files of answers',
      keys: ['answerFiles'],
      Cell: flagCell('answerFiles', {
        label: 'attachments of answers are put into files',
        after: 'The answer names the file; off: its content is in the answer, in Base64.',
      }),
    },
    {
      id: 'rules',
      label: 'of these headers',
      word: 'mustUnderstand and role',
      keys: ['mustUnderstand', 'role'],
      Cell: HeaderRulesCell,
    },
  ],
};

const REQUESTS: Group = {
  title: 'Requests',
  hint: 'HTTP',
  rows: [
    { id: 'headers', label: 'headers', word: 'more headers', keys: ['headers'], Cell: HeadersCell },
    {
      id: 'packed',
      label: 'packed',
      word: 'packing',
      keys: ['packed'],
      Cell: flagCell('packed', { label: 'packed requests', after: 'gzip; packed answers are always read' }),
    },
    {
      id: 'chunked',
      label: 'in chunks',
      word: 'chunks',
      keys: ['chunked'],
      Cell: flagCell('chunked', { label: 'requests in chunks', after: 'instead of with their length' }),
    },
    {
      id: 'announced',
      label: 'asked first',
      word: 'asking first',
      keys: ['announced'],
      Cell: flagCell('announced', { label: 'the service is asked first', after: 'Expect: 100-continue' }),
    },
    {
      id: 'redirects',
      label: 'redirects',
      keys: ['redirects'],
      Cell: flagCell('redirects', { label: 'redirects are followed', after: 'followed; secrets go to no other place' }),
    },
    {
      id: 'cookies',
      label: 'cookies',
      keys: ['cookies'],
      Cell: flagCell('cookies', { label: 'cookies are kept', after: 'the service’s are sent back to it' }),
    },
    {
      id: 'closing',
      label: 'closed each time',
      word: 'closing each time',
      keys: ['closing'],
      Cell: flagCell('closing', {
        label: 'connections are closed each time',
        after: 'a network connection for each call',
      }),
    },
    {
      id: 'charset',
      label: 'encoding',
      keys: ['charset'],
      Cell: textCell('charset', {
        label: 'encoding of requests',
        placeholder: 'UTF-8',
        options: ['ISO-8859-1', 'ISO-8859-15', 'windows-1252', 'UTF-16'],
      }),
    },
    {
      id: 'userAgent',
      label: 'user agent',
      keys: ['userAgent'],
      Cell: textCell('userAgent', { label: 'user agent', placeholder: 'Wire Kettle' }),
    },
  ],
};

const LIMITS: Group = {
  title: 'Limits',
  hint: 'for the whole server: every run and the Bench together',
  rows: [
    {
      id: 'parallel',
      label: 'calls at a time',
      keys: ['parallel'],
      always: true,
      Cell: numberCell('parallel', { label: 'calls at a time', id: 'parallel', placeholder: '8' }),
    },
    {
      id: 'rate',
      label: 'calls a second',
      keys: ['callsPerSecond'],
      always: true,
      Cell: numberCell('callsPerSecond', { label: 'calls a second', id: 'callsPerSecond', placeholder: 'no limit' }),
    },
    {
      id: 'retries',
      label: 'retries',
      keys: ['retries', 'retryOn', 'retryWaitMillis'],
      always: true,
      Cell: RetriesCell,
    },
    {
      id: 'opensAfter',
      label: 'all wait after',
      word: 'waiting for a service that is away',
      keys: ['opensAfter'],
      Cell: numberCell('opensAfter', {
        label: 'failures after which all calls wait',
        placeholder: 'never',
        after: 'calls in a row that did not reach the service; then one asks from time to time',
      }),
    },
    {
      id: 'maxAnswerBytes',
      label: 'largest answer',
      keys: ['maxAnswerBytes'],
      Cell: numberCell('maxAnswerBytes', { label: 'largest answer, bytes', placeholder: '33554432', after: 'bytes' }),
    },
  ],
};

export const soap: ConnectionKind = {
  kind: 'soap',
  short: 'service',
  label: 'a service',
  probe:
    'A probe goes the way of a call once, stage by stage: name, allow-list, TCP, TLS, HTTP, the service’s own ' +
    'description. It says where the way ends, and what to do. One operation may follow, with test values.',
  groups: [WHERE, WHO, TRUST, SESSION, MESSAGES, REQUESTS, LIMITS],
};
