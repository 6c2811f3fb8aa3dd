import { Fragment, memo, useMemo, type ReactNode } from 'react';
import { pretty } from './format';

const MAX_COLOURED = 400_000;

function colour(line: string): ReactNode[] {
  return line
    .split(/(<[^>]*>)/)
    .filter(Boolean)
    .map((p, i) => {
      if (!p.startsWith('<'))
        return (
          <span key={i} className="vl">
            {p}
          </span>
        );
      return (
        <span key={i} className="tg">
          {p.split(/(\s[\w:.-]+=)("[^"]*"|'[^']*')/).map((q, j) =>
            j % 3 === 2 ? (
              <span key={j} className="vl">
                {q}
              </span>
            ) : j % 3 === 1 ? (
              <span key={j} className="at">
                {q}
              </span>
            ) : (
              q
            ),
          )}
        </span>
      );
    });
}

/**
 * A message, laid out and coloured, or just as it was on the wire. `hits` are the lines to highlight, by a text they
 * contain.
 */
export const XmlText = memo(function XmlText({
  xml,
  asSent,
  isHit,
}: {
  xml: string;
  asSent?: boolean;
  isHit?: (line: string) => boolean;
}) {
  const lines = useMemo(() => (asSent ? xml : pretty(xml)).split('\n'), [xml, asSent]);
  if (xml.length > MAX_COLOURED) return <pre className="xml">{asSent ? xml : lines.join('\n')}</pre>;
  return (
    <pre className="xml">
      {lines.map((l, i) =>
        isHit?.(l) ? (
          <span key={i} className="hit">
            {colour(l)}
          </span>
        ) : (
          <Fragment key={i}>
            {colour(l)}
            {'\n'}
          </Fragment>
        ),
      )}
    </pre>
  );
});
