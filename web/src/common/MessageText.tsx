import { xmlLanguage } from '@codemirror/lang-xml';
import { highlightCode, tagHighlighter, tags } from '@lezer/highlight';
import { memo, useMemo } from 'react';
import { fileIn, filePath } from './files';
import { namesIn } from './format';
import { pretty, REQUEST } from './layout';
import { otherLines } from './lines';

const MAX_COLOURED = 400_000;

const COLOURS = tagHighlighter([
  { tag: [tags.tagName, tags.angleBracket, tags.processingInstruction, tags.documentMeta], class: 'tg' },
  { tag: tags.attributeName, class: 'at' },
  { tag: [tags.attributeValue, tags.content], class: 'vl' },
  { tag: tags.blockComment, class: 'faint' },
]);

const JSON_PIECE = /("(?:[^"\\]|\\.)*")(\s*:)?|[^"]+|"/g;

/** The lines of JSON, of a request, or of anything else, coloured. */
function plainly(text: string): Span[][] {
  const lines = text.split('\n');
  const isJson = /^\s*[{[]/.test(text);
  const head = isJson ? 0 : REQUEST.test(text) ? Math.max(lines.indexOf(''), 0) || lines.length : lines.length;
  return lines.map((line, i) => {
    if (i < head) return i === 0 || !REQUEST.test(text) ? [[line, '']] : header(line);
    return [...line.matchAll(JSON_PIECE)].flatMap(([all, value, colon]): Span[] =>
      !value
        ? [[all, '']]
        : colon
          ? [
              [value, 'at'],
              [colon, ''],
            ]
          : [[value, 'vl']],
    );
  });
}

const header = (line: string): Span[] => {
  const colon = line.indexOf(':');
  return colon < 0
    ? [[line, '']]
    : [
        [line.slice(0, colon), 'tg'],
        [line.slice(colon), ''],
      ];
};

/** A piece of a line, with the class that colours it. */
type Span = [text: string, colour: string];

/** The lines of a document, coloured. */
function coloured(xml: string): Span[][] {
  const lines: Span[][] = [[]];
  highlightCode(
    xml,
    xmlLanguage.parser.parse(xml),
    COLOURS,
    (text, classes) => lines[lines.length - 1].push([text, classes]),
    () => lines.push([]),
  );
  return lines;
}

const isSame = (a: Span[], b: Span[]) =>
  a.length === b.length && a.every(([text, colour], i) => text === b[i][0] && colour === b[i][1]);

/** Drawn anew only when it is another one: in a long message a key changes one line of thousands. */
const Line = memo(
  function Line({ spans, isHit, isOther }: { spans: Span[]; isHit: boolean; isOther: boolean }) {
    return (
      <span className={`line ${isHit ? 'hit' : ''} ${isOther ? 'other' : ''}`}>
        {spans.map(([text, colour], i) =>
          colour ? (
            <span key={i} className={colour}>
              {colour === 'vl' && fileIn(text) ? (
                <a href={`/api${filePath(fileIn(text)!)}`} download title="Take the file">
                  {text}
                </a>
              ) : (
                text
              )}
            </span>
          ) : (
            text
          ),
        )}
        {'\n'}
      </span>
    );
  },
  (a, b) => a.isHit === b.isHit && a.isOther === b.isOther && isSame(a.spans, b.spans),
);

interface Props {
  text: string;
  asSent?: boolean;
  /** Names of elements, attributes and members whose lines are to be highlighted. */
  hits?: ReadonlySet<string>;
  /** Another message: lines that it does not have are marked. */
  against?: string;
}

/** A message, laid out and coloured, or just as it was on the wire. */
export const MessageText = memo(function MessageText({ text: given, asSent, hits, against }: Props) {
  const text = useMemo(() => (asSent ? given : pretty(given)), [given, asSent]);
  const others = useMemo(
    () => (against === undefined ? undefined : otherLines(text.split('\n'), pretty(against).split('\n'))),
    [text, against],
  );
  const lines = useMemo(
    () => (text.length > MAX_COLOURED ? null : /^\s*</.test(text) ? coloured(text) : plainly(text)),
    [text],
  );
  if (!lines) return <pre className="xml">{text}</pre>;
  return (
    <pre className="xml">
      {lines.map((spans, i) => (
        <Line
          key={i}
          spans={spans}
          isOther={!!others?.has(i)}
          isHit={!!hits?.size && namesIn(spans.map(([t]) => t).join('')).some((n) => hits.has(n))}
        />
      ))}
    </pre>
  );
});
