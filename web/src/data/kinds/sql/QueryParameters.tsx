import { Input, Select } from 'antd';
import type { Api } from '../../../api/types';
import css from './QuerySource.module.css';

export type Parameter = Api<'QueryParameter'>;

const TYPES = ['string', 'integer', 'decimal', 'double', 'boolean', 'date', 'dateTime', 'time'];

interface Props {
  parameters: Parameter[];
  change: (name: string, by: Partial<Parameter>) => void;
}

const valueOf = (typed: string): Partial<Parameter> =>
  typed.startsWith('"') ? { text: typed.slice(1), xpath: undefined } : { xpath: typed || undefined, text: undefined };

/** What the names after a colon stand for: a type, and a value that is computed whenever the query is asked. */
export function QueryParameters({ parameters, change }: Props) {
  if (parameters.length === 0) return null;
  return (
    <div className={css.parameters}>
      {parameters.map((p) => (
        <div key={p.name} className="row">
          <span className={`mono ${css.name}`}>:{p.name}</span>
          <Select
            size="small"
            aria-label={`type of ${p.name}`}
            className={css.type}
            value={p.type ?? 'string'}
            onChange={(type) => change(p.name, { type })}
            options={TYPES.map((t) => ({ value: t, label: t === 'string' ? 'text' : t }))}
          />
          <Input
            size="small"
            aria-label={`value of ${p.name}`}
            className={`mono ${css.value}`}
            placeholder={'"2031-04-01 or current-date()'}
            value={p.text !== undefined ? `"${p.text}` : (p.xpath ?? '')}
            onChange={(e) => change(p.name, valueOf(e.target.value))}
          />
        </div>
      ))}
      <span className="faint small">
        a leading " makes a fixed value; in a flow <span className="mono">$kept</span> and{' '}
        <span className="mono">$run</span> are known; without a value it is NULL
      </span>
    </div>
  );
}
