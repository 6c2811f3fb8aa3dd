import type { FillView, Rule } from '../../api/types';
import { takenApart } from './eachRule';

const PLAIN = /^(\$?[\p{L}_][\p{L}\p{N}_.-]*)(\/@?[\p{L}_][\p{L}\p{N}_.-]*)*$/u;

/** A row's value as it is shown: a field, a fixed text, an expression, or what is suggested for it. */
export function ShowValue({ rule, ghost }: { rule?: Rule; ghost?: FillView['suggestions'][number] }) {
  if (rule?.each)
    return (
      <span className="small cut" title={`for each ${rule.each}`}>
        for each <span className="chip">{takenApart(rule.each).over}</span>
      </span>
    );
  if (rule?.secret !== undefined)
    return (
      <span className="small cut" title="sent, and shown to nobody">
        secret <span className="chip">{rule.secret || '?'}</span>
      </span>
    );
  if (rule?.file !== undefined)
    return (
      <span className="small cut" title="the content of the file of that name">
        file <span className="chip">{rule.file || '?'}</span>
      </span>
    );
  if (rule?.text !== undefined) return <span className="fixed-text cut">{rule.text}</span>;
  if (rule?.xpath)
    return PLAIN.test(rule.xpath) ? (
      <span className="chip cut">{rule.xpath}</span>
    ) : (
      <span className="expr cut" title={rule.xpath}>
        {rule.xpath}
      </span>
    );
  return ghost ? (
    <span className="ghost cut" title={`${ghost.reason}; Tab takes it`}>
      {ghost.xpath}
    </span>
  ) : null;
}
