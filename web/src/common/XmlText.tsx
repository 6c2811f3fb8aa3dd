import { xmlLanguage } from '@codemirror/lang-xml';
import { highlightCode, tagHighlighter, tags } from '@lezer/highlight';
import { Fragment, memo, useMemo, type ReactNode } from 'react';
import { pretty } from './format';

const MAX_COLOURED = 400_000;

const COLOURS = tagHighlighter([
  { tag: [tags.tagName, tags.angleBracket, tags.processingInstruction, tags.documentMeta], class: 'tg' },
  { tag: tags.attributeName, class: 'at' },
  { tag: [tags.attributeValue, tags.content], class: 'vl' },
  { tag: tags.blockComment, class: 'faint' },
]);

/** The lines of a document, coloured. */
function coloured(xml: string): ReactNode[][] {
  const lines: ReactNode[][] = [[]];
  highlightCode(
    xml,
    xmlLanguage.parser.parse(xml),
    COLOURS,
    (text, classes) => {
      const line = lines[lines.length - 1];
      line.push(
        classes ? (
          <span key={line.length} className={classes}>
            {text}
          </span>
        ) : (
          text
        ),
      );
    },
    () => lines.push([]),
  );
  return lines;
}

interface Props {
  xml: string;
  asSent?: boolean;
  /** Whether a line is to be highlighted. */
  isHit?: (line: string) => boolean;
}

/** A message, laid out and coloured, or just as it was on the wire. */
export const XmlText = memo(function XmlText({ xml, asSent, isHit }: Props) {
  const text = useMemo(() => (asSent ? xml : pretty(xml)), [xml, asSent]);
  const lines = useMemo(() => (text.length > MAX_COLOURED ? null : coloured(text)), [text]);
  if (!lines) return <pre className="xml">{text}</pre>;
  const plain = text.split('\n');
  return (
    <pre className="xml">
      {lines.map((line, i) =>
        isHit?.(plain[i] ?? '') ? (
          <span key={i} className="hit">
            {line}
          </span>
        ) : (
          <Fragment key={i}>
            {line}
            {'\n'}
          </Fragment>
        ),
      )}
    </pre>
  );
});
